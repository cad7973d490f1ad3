import { keysOf } from '../vocabulary/tables.js';
import * as z from 'zod';
import type { CookieRules } from '../http/cookies.js';
import type { Seconds } from '../time/duration.js';
import { COOKIE, readCookie } from './cookie-reader.js';
import type { Scope } from './text/name-reader.js';
import { problem } from './text/problems.js';
import type { Roles } from './roles-and-flags.js';
import { choice, duration, flag, section, text } from './text/schema-parts.js';
import type { Path } from './text/yaml-text.js';

/** One key of the section `session`. */
interface SessionOption<Written, Value> {
  /** Its row in docs/language: what may be written, the usual first, and what it means. */
  readonly row: readonly [written: string, means: string];
  readonly schema: z.ZodType<Written>;
  /** Reads what was written; what is left out is careful, and a limit that is left out does not exist. */
  read(written: Written | undefined, rest: Rest): Value;
}

/** What else bears on an option. */
interface Rest {
  readonly kept: 'store' | 'memory' | 'sealed';
  /** Whether a form's token, or an address to come back to, is kept in the session, so that guests need one. */
  readonly isForGuests: boolean;
  readonly roles: Roles;
  readonly scope: Scope;
}

function option<Written, Value>(all: SessionOption<Written, Value>): SessionOption<Written, Value> {
  return all;
}

/** One of some words, of which the first is the usual one. */
function wordOf<const Words extends readonly [string, ...string[]]>(
  words: Words,
  row: SessionOption<Words[number], Words[number]>['row'],
) {
  return option<Words[number], Words[number]>({
    row,
    schema: choice(words),
    read: (written) => written ?? words[0],
  });
}

/** An age at which a session is over, whatever else is. */
const limit = (row: SessionOption<Seconds, Seconds | null>['row']) =>
  option<Seconds, Seconds | null>({ row, schema: duration(), read: (written) => written ?? null });

const cookie = section('session.cookie', {
  ...COOKIE,
  life: z.union([z.literal('browser'), duration()], { error: 'browser or a duration such as 8h' }).optional(),
  renewed: flag.optional(),
});

const byRole = z.array(
  section('session.by-role', {
    role: text('a role'),
    idle: duration().optional(),
    absolute: duration().optional(),
  }),
  { error: 'a list such as [{ role: bursar, idle: 10m }]' },
);

/** The limits of a session of whoever holds a role; null for what is as for all. */
export interface RoleLimits {
  readonly at: Path;
  readonly role: string;
  readonly idle: Seconds | null;
  readonly absolute: Seconds | null;
}

/** The cookie of a session. */
export interface SessionCookie extends CookieRules {
  /** Whether a renewal gives the cookie a new life too, and not only the record. */
  readonly renewed: boolean;
}

/** Every option of sessions, in the order of docs/language. Where each is at work, its name is searched for. */
export const SESSION_OPTIONS = {
  starts: option<
    'at-login' | 'with-a-form' | 'at-first-visit',
    'at-login' | 'with-a-form' | 'at-first-visit'
  >({
    row: [
      '`at-login`, `with-a-form` or `at-first-visit`',
      'whether guests have a session: none; one that comes with the form of a way in, or with a page that says itself who may write to it; or one that comes with whatever is answered. A login then gives a new one, or goes on with it where `renew-session-id` is false. `with-a-form` is the usual where something of a guest is kept in it',
    ],
    schema: choice(['at-login', 'with-a-form', 'at-first-visit']),
    read: (written, { isForGuests }) => written ?? (isForGuests ? 'with-a-form' : 'at-login'),
  }),
  kept: wordOf(
    ['store', 'memory', 'sealed'],
    [
      '`store`, `memory` or `sealed`',
      'a record in the app; one that a restart loses; or everything in the cookie, beyond the app’s reach',
    ],
  ),
  idle: limit(['a duration', 'how long it lasts without use; no limit when left out']),
  absolute: limit(['a duration', 'how long it lasts at all; no limit when left out']),
  renews: wordOf(
    ['each-request', 'past-half', 'never'],
    [
      '`each-request`, `past-half` or `never`',
      'when a request counts as use: always, once half of `idle` has passed, or not at all',
    ],
  ),
  roles: wordOf(
    ['each-request', 'at-login'],
    ['`each-request` or `at-login`', 'when the roles of the account are read'],
  ),
  'at-once': wordOf(
    ['any', 'latest-wins', 'first-wins'],
    [
      '`any`, `latest-wins` or `first-wins`',
      'the sessions that an account may have: any number; one, which ends the others, and what other logins of the account are known again by; or one, which lets nobody in meanwhile. Every way in counts: a password, a link, a provider, and coming back by a remember cookie',
    ],
  ),
  'account-gone': wordOf(
    ['logout'],
    ['`logout`', 'what becomes of the session of an account that is no longer there: it is over'],
  ),
  'by-role': option<z.output<typeof byRole>, readonly RoleLimits[]>({
    row: [
      'a list such as `[{ role: bursar, idle: 10m, absolute: 2h }]`',
      'other limits for whoever holds a role: the first role held decides, and what it leaves out is as for all',
    ],
    schema: byRole,
    read: (written = [], { roles }) =>
      written.map(({ role, idle = null, absolute = null }, index) => ({
        at: ['session', 'by-role', index],
        role: roles.resolve(role, ['session', 'by-role', index, 'role']),
        idle,
        absolute,
      })),
  }),
  cookie: option<z.output<typeof cookie>, SessionCookie>({
    row: [
      'a map',
      '`name` (`session`), `secure` (true), `http-only` (true), `same-site` (`lax`; `strict`, `none` or `unset`), `path` (`/`), `domain` (none: only the host that sets it), `life` (`browser` or a duration), `renewed` (true; false: renewals of the session leave the cookie’s life as it was). A `name` may be a list, such as `[app.sess, app.sess.sig]`: the cookie counts only with all of them',
    ],
    schema: cookie,
    read(written = {}, { kept, scope }) {
      const at = ['session', 'cookie'];
      const { life, renewed = true } = written;
      if (!renewed && kept === 'sealed') {
        const says = 'what is sealed in the cookie is renewed with it or not at all; write renews: never';
        scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'renewed'])));
      }
      return {
        ...readCookie(written, 'session', at, scope),
        life: life === undefined || life === 'browser' ? null : life,
        renewed,
      };
    },
  }),
} as const;

type Options = typeof SESSION_OPTIONS;
type Key = keyof Options;

/** What becomes of a session, by the keys of the section. */
export type SessionRules = { readonly at: readonly ['session'] } & {
  readonly [Name in Key]: ReturnType<Options[Name]['read']>;
};

const KEYS = keysOf(SESSION_OPTIONS);

/** The section `session`. The compiler cannot follow each option through the list of keys: each has its own schema. */
export const session = section(
  'session',
  Object.fromEntries(KEYS.map((key) => [key, SESSION_OPTIONS[key].schema.optional()])) as {
    [Name in Key]: z.ZodOptional<Options[Name]['schema']>;
  },
);

/** Reads what becomes of a session. */
export function readSession(written: z.output<typeof session>, given: Omit<Rest, 'kept'>): SessionRules {
  const rest = { kept: written.kept ?? 'store', ...given };
  const read = (key: Key) =>
    // Each option is given just what was written under its key.
    (SESSION_OPTIONS[key] as SessionOption<unknown, unknown>).read(written[key], rest);
  // For the same reason: each value is what the option of its key reads.
  const all = Object.fromEntries(KEYS.map((key) => [key, read(key)])) as Omit<SessionRules, 'at'>;
  return { ...all, at: ['session'] };
}

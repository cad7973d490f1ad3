import { REFUSAL_KEYS, type Refusal, type RefusalKey, type Refusals } from '../vocabulary/refusal.js';
import { recordOf } from '../vocabulary/tables.js';
import * as z from 'zod';
import { readAddress, type Scope } from './text/name-reader.js';
import { valueUnder } from './text/plain.js';
import { problem } from './text/problems.js';
import { section } from './text/schema-parts.js';
import type { Path } from './text/yaml-text.js';

/** What is said of a refusal: who gets it, and what where the policy leaves it out. */
interface RefusalKind {
  /** Its row in docs/language. */
  readonly who: string;
  readonly page: Word;
  readonly api: Word;
  /** What it takes besides what all take. */
  readonly more?: 'shell';
}
type Word = 'login' | 'landing' | 'code-page' | 401 | 403 | 404;

/** Every refusal, in the order of docs/language. */
export const REFUSAL_KINDS = {
  guest: { who: 'nobody is signed in', page: 'login', api: 401 },
  'guests-only': { who: 'somebody is, where only guests may be', page: 'landing', api: 403 },
  role: { who: 'somebody may not see this', page: 403, api: 403 },
  'second-factor': { who: 'a one-time code is owed', page: 'code-page', api: 403 },
  'stale-login': { who: 'the login is too long ago', page: 'login', api: 401 },
  unknown: { who: 'there is no such page', page: 404, api: 404, more: 'shell' },
} as const satisfies Readonly<Record<RefusalKey, RefusalKind>>;

/** The refusals of a policy. */
export interface AllRefusals {
  readonly page: Refusals;
  readonly api: Refusals;
}

/** What a page or a rule says itself of refusals, which goes before what the policy says. */
export interface OwnRefusals {
  readonly page: Partial<Refusals>;
  readonly api: Partial<Refusals>;
}

const refusal = z
  .union([z.int(), z.string()], {
    error: 'login, landing, code-page, a status (401, 403 or 404), a path or the name of a login',
  })
  .optional();
const SHAPE = {
  ...recordOf(REFUSAL_KEYS, () => refusal),
  method: z.literal([404, 405], { error: '404 or 405' }).optional(),
};

/** The section `refusals`. */
export const refusals = section('refusals', { ...SHAPE, api: section('refusals.api', SHAPE).optional() });

/** The key `refusals` of a page or a rule. */
export const ownRefusals = section('the refusals of a page or rule', {
  ...SHAPE,
  api: section('the refusals.api of a page or rule', SHAPE).optional(),
});

/**
 * Reads what a page or a rule says of refusals.
 *
 * @param isFor the kind of address that it says itself to be of, for which everything holds then; null where it leaves that open
 */
export function readOwnRefusals(
  text: z.output<typeof ownRefusals>,
  isFor: 'page' | 'api' | null,
  at: Path,
  scope: Scope,
): OwnRefusals {
  if (text.api !== undefined && isFor !== null) {
    const says = `api is for what leaves its kind open; all of this is for kind: ${isFor}`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'api'])));
  }
  const own = readOwn(text, at, scope);
  return { page: own, api: isFor === 'api' ? own : readOwn(text.api ?? {}, [...at, 'api'], scope) };
}

function readOwn(text: Omit<z.output<typeof ownRefusals>, 'api'>, at: Path, scope: Scope): Partial<Refusals> {
  const own: { -readonly [Key in keyof Refusals]?: Refusals[Key] } = {};
  for (const key of REFUSAL_KEYS) {
    const written = text[key];
    if (written !== undefined) own[key] = readRefusal(written, key, [...at, key], scope);
  }
  return text.method === undefined ? own : { ...own, method: text.method };
}

/** Reads the refusals; an api differs from a page where it says so, and by its careful defaults. */
export function readRefusals(text: z.output<typeof refusals>, scope: Scope): AllRefusals {
  return {
    page: readKind(text, 'page', ['refusals'], scope),
    api: readKind(text.api ?? {}, 'api', ['refusals', 'api'], scope),
  };
}

function readKind(
  text: Omit<z.output<typeof refusals>, 'api'>,
  kind: 'page' | 'api',
  at: Path,
  scope: Scope,
): Refusals {
  const all = recordOf(REFUSAL_KEYS, (key) =>
    readRefusal(text[key] ?? REFUSAL_KINDS[key][kind], key, [...at, key], scope),
  );
  return { ...all, method: text.method ?? 405 };
}

function readRefusal(text: number | string, key: RefusalKey, at: Path, scope: Scope): Refusal {
  const { more }: RefusalKind = REFUSAL_KINDS[key];
  if (text === 'shell' && more === text) return { to: text };
  if (text === 'login' || text === 'landing' || text === 'code-page') return { to: text };
  if (text === 401 || text === 403 || text === 404) return { to: 'status', status: text };
  if (typeof text === 'string' && text.startsWith('/')) {
    return { to: 'path', path: readAddress(text, at, scope) };
  }
  if (typeof text === 'string' && isLogin(text, scope)) return { to: 'login', login: text };
  const says = `${text} is no refusal: use login, landing, code-page, 401, 403, 404, a path or the name of a login`;
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  return { to: 'status', status: 403 };
}

/** Whether a login is called so. */
function isLogin(name: string, { input }: Scope): boolean {
  const logins = valueUnder(input.value, 'logins');
  return typeof logins === 'object' && logins !== null && Object.hasOwn(logins, name);
}

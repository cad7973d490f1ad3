import {
  parseDuration,
  handle,
  recordsOf,
  type Administration,
  type Recorded,
  type Seconds,
} from '../core/internal.js';
import { codeOf } from './requests.js';
import type { Site } from './site.js';
import type { Wire } from './wire.js';

/** The app half at work, and the wire that it is reached by; a reset puts another in its place. */
export interface Running {
  readonly site: Site;
  wire: Wire;
}

/** A message that the app has sent: a one-time code or a link. */
export interface Message {
  readonly to: string;
  readonly kind: 'code' | 'link';
  readonly text: string;
}

/** All that the steering pages show, as `GET /-/state` gives it. */
export interface Standing {
  readonly now: Seconds;
  readonly clock: 'virtual' | 'real';
  readonly records: readonly Recorded[];
  readonly accounts: readonly {
    readonly name: string;
    readonly roles: readonly string[];
    readonly state: string;
  }[];
  readonly messages: readonly Message[];
}

/** What the stand-in has come to. */
export function standingOf(site: Site, wire: Wire): Standing {
  const now = site.time.now();
  return {
    now,
    clock: site.time.kind,
    records: recordsOf(site.stage, site.state, now),
    accounts: [...site.state.accounts.values()].map(({ name, given, state }) => ({
      name,
      roles: given,
      state,
    })),
    messages: messagesOf(site, wire),
  };
}

function messagesOf(site: Site, wire: Wire): Message[] {
  const { confirm } = site.policy;
  const codes = site.state.sessions.flatMap(({ account, ended }, index): Message[] => {
    const code = ended === null ? codeOf(index, site, wire) : null;
    return code === null || account === null ? [] : [{ to: account, kind: 'code', text: code }];
  });
  const links = site.state.confirmations.flatMap(({ account }, index): Message[] => {
    if (confirm === null) return [];
    const text = confirm.pattern.text.replace(/:[^/]+$/, wire.seals.seal(handle('confirm', index)));
    return [{ to: account, kind: 'link', text }];
  });
  return [...codes, ...links];
}

/** Steps that can be asked for, each by a POST to its address. */
export const DEEDS = [
  'clock',
  'suspend',
  'delete-account',
  'set-roles',
  'set-password',
  'restart-app',
  'reset',
] as const;
export type Deed = (typeof DEEDS)[number];

/** Does what was asked for; gives a sentence on what is wrong with it where it cannot be done. */
export function steer(deed: Deed, fields: ReadonlyMap<string, string>, running: Running): string | null {
  const { site } = running;
  switch (deed) {
    case 'clock':
      return moveClock(fields, site);
    case 'reset':
      // Numbers start again, so what was handed out before must not be taken for what is handed out now.
      site.reset();
      running.wire = running.wire.renewed();
      return null;
    case 'restart-app':
      site.administer({ verb: 'restart-app' });
      return null;
    default: {
      const account = fields.get('account') ?? '';
      if (!site.state.accounts.has(account)) return 'account: name one that there is';
      const what = administration(deed, account, fields);
      if (what.verb === 'set-roles') {
        const unknown = what.roles.find((role) => !site.policy.roles.has(role));
        if (unknown !== undefined) return 'roles: name roles of the policy, with commas between them';
      }
      site.administer(what);
      return null;
    }
  }
}

function administration(
  verb: Exclude<Deed, 'clock' | 'reset' | 'restart-app'>,
  account: string,
  fields: ReadonlyMap<string, string>,
): Administration {
  switch (verb) {
    case 'set-roles': {
      const roles = (fields.get('roles') ?? '').split(/[\s,]+/).filter((role) => role !== '');
      return { verb, account, roles };
    }
    case 'set-password':
      return { verb, account, password: fields.get('password') ?? '' };
    default:
      return { verb, account };
  }
}

/** The clock goes on by `wait`, a duration, or to the instant `to`, in seconds from the start. It never goes back. */
function moveClock(fields: ReadonlyMap<string, string>, { time }: Site): string | null {
  const to = fields.get('to');
  const wait = fields.get('wait');
  if (to !== undefined) {
    if (!/^\d{1,12}$/.test(to)) return 'to: give whole seconds from the start';
    time.moveTo(Number(to));
    return null;
  }
  const seconds = parseDuration(wait ?? '');
  if (typeof seconds === 'string') return `wait: ${seconds}`;
  time.moveTo(time.now() + seconds);
  return null;
}

import {
  type Administration,
  factChanges,
  FixedClock,
  flagsSchema,
  handle,
  keyFault,
  linkRules,
  parseDuration,
  type Recorded,
  recordsOf,
  type Seconds,
  writtenFacts,
  writtenFlags,
} from '../core/internal.js';
import { Recorder } from './recorder.js';
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

/** A key that a machine has or had, as a request shows it. */
export interface StandingKey {
  readonly account: string;
  readonly key: string;
  readonly counts: boolean;
  /** Why it does not count; null while it does. */
  readonly because: string | null;
}

/** All that the steering pages show, as `GET /-/state` gives it. */
export interface Standing {
  readonly now: Seconds;
  readonly clock: 'virtual' | 'real';
  readonly records: readonly Recorded[];
  readonly accounts: readonly {
    readonly name: string;
    readonly roles: readonly string[];
    readonly facts: Readonly<Record<string, string | readonly string[] | null>>;
    readonly state: string;
    readonly isMachine: boolean;
  }[];
  /** The keys of machines, as they go over the wire. */
  readonly keys: readonly StandingKey[];
  /** The switches of the app. */
  readonly flags: Readonly<Record<string, 'on' | 'off'>>;
  readonly messages: readonly Message[];
}

/** What the stand-in has come to. */
export function standingOf(site: Site, wire: Wire): Standing {
  const now = site.time.now();
  return {
    now,
    clock: site.time.kind,
    records: recordsOf(site.stage, site.state, now),
    accounts: [...site.state.accounts.values()].map(({ name, given, facts, state, key }) => ({
      name,
      roles: given,
      facts: writtenFacts(facts),
      state,
      isMachine: key,
    })),
    keys: keysOf(site, wire, now),
    flags: writtenFlags(
      new Map([...site.policy.flags.keys()].map((flag) => [flag, site.state.flags.has(flag)])),
    ),
    messages: messagesOf(site, wire),
  };
}

function keysOf({ policy, state }: Site, wire: Wire, now: Seconds): StandingKey[] {
  const rules = policy.apiKeys;
  if (rules === null) return [];
  return state.keys.map((key, index) => {
    const because = keyFault(rules, key, new FixedClock(now));
    return {
      account: key.account,
      key: wire.seals.seal(handle('key', index)),
      counts: because === null,
      because,
    };
  });
}

function messagesOf(site: Site, wire: Wire): Message[] {
  const codes = site.state.sessions.flatMap(({ account, ended }, index): Message[] => {
    const code = ended === null ? codeOf(index, site, wire) : null;
    return code === null || account === null ? [] : [{ to: account, kind: 'code', text: code }];
  });
  const links = site.state.links.flatMap(({ kind, account }, index): Message[] => {
    const pattern = linkRules(site.policy, kind)?.pattern;
    if (pattern === undefined) return [];
    const text = pattern.text.replace(/:[^/]+$/, wire.seals.seal(handle('link', index)));
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
  'set-facts',
  'set-password',
  'set-flag',
  'rotate-key',
  'revoke-key',
  'restart-app',
  'reset',
  'walk',
] as const;
export type Deed = (typeof DEEDS)[number];

/** Does what was asked for; gives a sentence on what is wrong with it where it cannot be done. */
export function steer(deed: Deed, fields: ReadonlyMap<string, string>, running: Running): string | null {
  const { site } = running;
  switch (deed) {
    case 'clock':
      return moveClock(fields, site);
    case 'walk':
      return record(fields, running);
    case 'reset':
      // Numbers start again, so what was handed out before must not be taken for what is handed out now.
      site.reset();
      running.wire = running.wire.renewed();
      return null;
    case 'restart-app':
      site.administer({ verb: 'restart-app' });
      return null;
    case 'set-flag': {
      const stands = readJson(flagsSchema, fields.get('flags'));
      const isKnown = stands !== null && Object.keys(stands).every((flag) => site.policy.flags.has(flag));
      if (!isKnown) return 'flags: give flags of the policy as JSON, such as {"maintenance":"on"}';
      site.administer({ verb: 'set-flag', flags: new Map(Object.entries(stands)) });
      return null;
    }
    case 'set-facts': {
      const account = fields.get('account') ?? '';
      if (!site.state.accounts.has(account)) return UNKNOWN_ACCOUNT;
      const facts = readJson(factChanges, fields.get('facts'));
      if (facts === null) return 'facts: give what is to change as JSON, such as {"terms":"accepted"}';
      site.administer({ verb: 'set-facts', account, facts: new Map(Object.entries(facts)) });
      return null;
    }
    default: {
      const account = fields.get('account') ?? '';
      const known = site.state.accounts.get(account);
      if (known === undefined) return UNKNOWN_ACCOUNT;
      if ((deed === 'rotate-key' || deed === 'revoke-key') !== known.key && IS_OF_SECRETS.has(deed)) {
        return known.key ? 'account: a machine has no password' : 'account: name one that has a key';
      }
      const what = administration(deed, account, fields);
      if ('roles' in what) {
        const unknown = what.roles.find((role) => !site.policy.roles.has(role));
        if (unknown !== undefined) return 'roles: name roles of the policy, with commas between them';
      }
      site.administer(what);
      return null;
    }
  }
}

/** Begins to record a walk, from the policy as at the start; or ends it under a name. */
function record(fields: ReadonlyMap<string, string>, running: Running): string | null {
  const { site } = running;
  const name = (fields.get('name') ?? '').trim();
  if (fields.get('record') === 'on') {
    site.recorder = new Recorder(site.time.now(), site.time.kind);
    steer('reset', NO_FIELDS, running);
    return null;
  }
  if (site.recorder === null) return 'record: nothing is recorded; begin with record=on';
  if (name === '' || name.length > 200) return 'name: give the walk a name of at most 200 characters';
  site.recorded = site.recorder.written(site.stage, name);
  site.recorder = null;
  return null;
}

const NO_FIELDS: ReadonlyMap<string, string> = new Map();

/** What is done to the password of a person, or to the key of a machine. */
const IS_OF_SECRETS: ReadonlySet<Deed> = new Set<Deed>(['set-password', 'rotate-key', 'revoke-key']);

const UNKNOWN_ACCOUNT = 'account: name one that there is';

/** What a field says as JSON of some form; null where it does not. */
function readJson<Value>(
  schema: { safeParse(value: unknown): { readonly data?: Value | undefined } },
  text: string | undefined,
): Value | null {
  try {
    return schema.safeParse(JSON.parse(text ?? '')).data ?? null;
  } catch {
    return null;
  }
}

function administration(
  verb: 'suspend' | 'delete-account' | 'set-roles' | 'set-password' | 'rotate-key' | 'revoke-key',
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

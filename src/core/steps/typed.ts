import type { Verb } from './all-steps.js';

/** What may stand at a place of a typed step, for whoever completes it. */
export type Completed =
  | 'account'
  | 'machine'
  | 'page'
  | 'method'
  | 'menu'
  | 'role'
  | 'fact'
  | 'flag'
  | 'login'
  | 'provider'
  | 'credential'
  | 'browser'
  | 'deadline';

/** A kind of step as somebody types it in a line. */
interface TypedKind {
  /** How it is typed. */
  readonly usage: string;
  /** What stands after the verb, in the words of reports. */
  readonly form: RegExp;
  /** What a walk that is written down has after the colon. */
  written(found: Found): unknown;
  /** What may stand at each place after the verb: names of a kind, or words themselves. */
  readonly places: readonly (readonly (Completed | `=${string}`)[])[];
}

/** What the named groups of a form found; undefined for those that are not there. */
type Found = Readonly<Record<string, string | undefined>>;

const NAME = '\\S+';
const PASSWORD = '(?: (?<password>\\S.*))?';

function alone(verb: string): TypedKind {
  return { usage: verb, form: /^$/, written: () => null, places: [] };
}

function one(usage: string, what: Completed | `=${string}`, more: Partial<TypedKind> = {}): TypedKind {
  return {
    usage,
    form: /^(?<name>\S+)$/,
    written: ({ name }) => name,
    places: [[what]],
    ...more,
  };
}

const list = (text: string | undefined) => (text ?? '').split(/\s*,\s*/).filter((each) => each !== '');
const present = (parts: Readonly<Record<string, unknown>>) =>
  Object.fromEntries(Object.entries(parts).filter(([, value]) => value !== undefined));
const late = ({ name, late: isLate }: Found) => (isLate === undefined ? name : { as: name, late: true });

/** How each kind of step is typed: what reports call it is one way, so that a line of a report can be typed again. */
export const TYPED: Readonly<Record<Verb, TypedKind>> = {
  visit: one('visit /berths', 'page'),
  follow: one('follow Berths', 'menu', { form: /^(?<name>\S.*)$/ }),
  send: {
    usage: 'send POST /berths, or send GET /api/berths by the key of crane',
    form: new RegExp(`^(?<request>[A-Z]+ ${NAME})(?: by the (?<old>old )?key of (?<key>${NAME}))?$`),
    written: ({ request, key, old }) =>
      key === undefined ? request : present({ request, key, old: old === undefined ? undefined : true }),
    places: [['method'], ['page'], ['=by'], ['=the'], ['=key', '=old'], ['=of', '=key'], ['machine']],
  },
  together: {
    usage: 'together GET /api/a, GET /api/b',
    form: /^(?<calls>\S.*)$/,
    written: ({ calls }) =>
      list(calls).map((call) => {
        const isBehind = call.endsWith(BEHIND);
        return isBehind ? { send: call.slice(0, -BEHIND.length), tab: 'behind' } : call;
      }),
    places: [['method'], ['page'], ['method'], ['page']],
  },
  login: {
    usage: 'login ines, login ines at office, as bursar, with port-id, remembered, wrong password',
    form: new RegExp(
      `^(?<name>${NAME}?)(?:,? at (?<at>${NAME}?))?(?:,? with (?<with>${NAME}?))?(?:,? as (?<role>${NAME}?))?(?<remember>,? remembered)?(?:,? (?<wrong>wrong )?password(?: (?<password>\\S.*))?)?$`,
    ),
    written({ name, at, with: provider, role, remember, wrong, password }) {
      const given = password ?? (wrong === undefined ? undefined : 'a wrong password');
      const more = present({
        password: given,
        role,
        remember: remember === undefined ? undefined : true,
        at,
        with: provider,
      });
      return Object.keys(more).length === 0 ? name : { as: name, ...more };
    },
    places: [
      ['account'],
      ['=at', '=with', '=as', '=remembered', '=wrong'],
      ['login', 'provider', 'role', '=password'],
      ['=as', '=remembered'],
    ],
  },
  code: one('code right, wrong or late', '=right', { places: [['=right', '=wrong', '=late']] }),
  'sign-up': {
    usage: 'sign-up nell and a password',
    form: new RegExp(`^(?<as>${NAME})${PASSWORD}$`),
    written: ({ as, password }) => present({ as, password }),
    places: [],
  },
  confirm: one('confirm nell', 'account'),
  'change-password': {
    usage: 'change-password and the new one',
    form: /^(?<new>\S.*)$/,
    written: (found) => ({ new: found['new'] }),
    places: [],
  },
  'ask-reset': one('ask-reset ines', 'account'),
  reset: {
    usage: 'reset ines and a new password, or with late before it',
    form: new RegExp(`^(?<as>${NAME}?)(?<late>,? late)?${PASSWORD}$`),
    written: ({ as, password, late: isLate }) =>
      present({ as, password, late: isLate === undefined ? undefined : true }),
    places: [['account'], ['=late']],
  },
  'ask-link': one('ask-link ines', 'account'),
  'open-link': one('open-link ines, or open-link ines, late', 'account', {
    form: /^(?<name>\S+?)(?<late>,? late)?$/,
    written: late,
    places: [['account'], ['=late']],
  }),
  'plant-answer': {
    usage: 'plant-answer of piet with port-id',
    form: /^of (?<of>\S+) with (?<with>\S+)$/,
    written: ({ of, with: provider }) => ({ of, with: provider }),
    places: [['=of'], ['account'], ['=with'], ['provider']],
  },
  'logout-provider': one('logout-provider port-id', 'provider'),
  logout: alone('logout'),
  refresh: alone('refresh'),
  reload: alone('reload'),
  back: one('back, or back 2', '=2', {
    form: /^(?:(?<name>\d+)(?: pages)?)?$/,
    written: ({ name }) => (name === undefined ? null : Number(name)),
    places: [],
  }),
  'new-tab': alone('new-tab'),
  'duplicate-tab': alone('duplicate-tab'),
  'close-tab': alone('close-tab'),
  'close-browser': alone('close-browser'),
  'open-browser': alone('open-browser'),
  'restore-browser': alone('restore-browser'),
  'clear-cookies': one('clear-cookies, or clear-cookies and the name of one', '=', {
    form: /^(?<name>\S+)?$/,
    written: ({ name }) => name ?? null,
    places: [],
  }),
  copy: {
    usage: 'copy session to thief',
    form: /^(?<what>\S+) to (?<to>\S.*)$/,
    written: ({ what, to }) => ({ what, to }),
    places: [['credential'], ['=to'], ['browser']],
  },
  plant: {
    usage: 'plant session in browser',
    form: /^(?<what>\S+) in (?<in>\S.*)$/,
    written: (found) => ({ what: found['what'], in: found['in'] }),
    places: [['credential'], ['=in'], ['browser']],
  },
  'restart-app': alone('restart-app'),
  suspend: one('suspend ines', 'account'),
  'delete-account': one('delete-account ines', 'account'),
  'set-roles': {
    usage: 'set-roles ines: bursar, skipper, or set-roles ines: none',
    form: /^(?<as>[^\s:]+):? (?<roles>\S.*)$/,
    written: ({ as, roles }) => ({ as, roles: roles === NONE ? [] : list(roles) }),
    places: [['account'], ['role', `=none`], ['role']],
  },
  'set-facts': {
    usage: 'set-facts ines: terms accepted, boat gull and tern',
    form: /^(?<as>[^\s:]+):? (?<facts>\S.*)$/,
    written({ as, facts }) {
      const changes = list(facts).map((fact) => {
        const [, name = '', values = ''] = /^(\S+) ?(.*)$/.exec(fact) ?? [];
        const all = values.split(' and ');
        return [name, values === NONE || values === '' ? null : all.length > 1 ? all : values] as const;
      });
      return { as, facts: Object.fromEntries(facts === 'nothing' ? [] : changes) };
    },
    places: [['account'], ['fact']],
  },
  'set-password': {
    usage: 'set-password ines and the new one',
    form: new RegExp(`^(?<as>${NAME})${PASSWORD}$`),
    written: ({ as, password }) => present({ as, password }),
    places: [['account']],
  },
  'set-flag': {
    usage: 'set-flag maintenance on',
    form: /^(?<flags>\S.*)$/,
    written: ({ flags }) =>
      Object.fromEntries(list(flags).map((each) => each.split(/ (?=\S+$)/) as [string, string])),
    places: [['flag'], ['=on', '=off']],
  },
  'rotate-key': one('rotate-key crane', 'machine'),
  'revoke-key': one('revoke-key crane', 'machine'),
  wait: {
    usage: 'wait 30m, wait past session-idle, or wait short-of session-idle',
    form: /^(?:(?<kind>past|short-of) )?(?<until>\S+)$/,
    written: ({ kind, until }) => (kind === undefined ? until : { [kind]: until }),
    places: [['=past', '=short-of'], ['deadline']],
  },
};

const BEHIND = ' in the tab behind';
const NONE = 'none';

/** A step as it is written down: a key for what is done, and where. */
export type WrittenStep = Readonly<Record<string, unknown>>;

const VERBS = Object.keys(TYPED) as Verb[];

/** The kind of step that a word names; null for none. */
export function typedVerb(word: string): Verb | null {
  return VERBS.find((verb) => verb === word) ?? null;
}

/** A step as it was typed; or the kind that it seems to be, null for none, whose form it has not. */
export type TypedStep =
  | { readonly step: WrittenStep }
  | { readonly step: null; readonly word: string; readonly usage: string | null };

/** The browser that a line names, undefined where it names none, and what is left: `in thief: visit /office`. */
export function typedIn(line: string): { readonly browser: string | undefined; readonly rest: string } {
  const [, browser, rest = ''] = /^(?:in ([^:]+?)\s*:\s*)?(.*)$/.exec(line.trim()) ?? [];
  return { browser, rest };
}

/** Reads a step that is typed in a line, in the words of reports: `in thief: visit /office from https://mail.example`. */
export function readTyped(line: string): TypedStep {
  const { browser, rest: all } = typedIn(line);
  const [, body = '', network] = /^(.*?)(?:,? connected from (\S+))?$/.exec(all) ?? [];
  const [, word = '', rest = ''] = /^(\S+?):?(?:\s+(.*))?$/.exec(body) ?? [];
  const verb = typedVerb(word);
  if (verb === null) return { step: null, word, usage: null };
  const kind = TYPED[verb];
  const [, told = '', from] = /^(.*?)(?:,? from (https?:\/\/\S+))?$/.exec(rest.trim()) ?? [];
  const found = kind.form.exec(told);
  if (found === null) return { step: null, word, usage: kind.usage };
  const where = present({ from, in: browser, 'connects-from': network });
  return { step: { [verb]: kind.written(found.groups ?? {}), ...where } };
}

import type { Seconds } from '../time/duration.js';
import { instantOf, type Instant } from '../time/clock.js';
import type { FormName } from '../http/messages.js';
import type { Account, Policy } from '../language/policy.js';
import type { Audience } from '../vocabulary/audience.js';
import { pathOf } from './endpoints.js';
import type { LinkKind } from './link-rules.js';
import { Router } from './router.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { Reason } from './reasons.js';

/** A policy made ready to answer requests. It never changes; what changes is the state. */
export interface App {
  readonly policy: Policy;
  readonly router: Router;
  readonly menu: readonly MenuEntry[];
  /** The normalised paths of the pages with a form; null where the policy has none. */
  readonly formPages: Readonly<Record<FormName, string | null>>;
}

/** A menu link with those who are shown it: its own audience, else that of the page it leads to. */
export interface MenuEntry {
  readonly to: string;
  readonly text: string;
  readonly audience: Audience;
  readonly parameters: ReadonlyMap<string, string>;
}

/** Makes an app of a policy. */
export function createApp(policy: Policy): App {
  const router = new Router(policy);
  const menu = policy.menu.flatMap((link): MenuEntry[] => {
    const route = router.find('GET', pathOf(link.to));
    const audience = link.audience?.audience ?? route?.grounds.audience;
    return audience
      ? [{ to: link.to, text: link.text, audience, parameters: route?.parameters ?? new Map() }]
      : [];
  });
  const { login, logins, signUp, secondFactor, password, linkLogin } = policy;
  const formPages = {
    ...Object.fromEntries(logins.map(({ form, page }) => [form, pathOf(page)])),
    login: login && pathOf(login.page),
    'sign-up': signUp && pathOf(signUp.page),
    code: secondFactor && pathOf(secondFactor.page),
    'change-password': password?.change ? pathOf(password.change.page) : null,
    'ask-reset': password?.reset ? pathOf(password.reset.page) : null,
    'ask-link': linkLogin && pathOf(linkLogin.page),
    // It stands at each link of its own.
    reset: null,
  };
  return { policy, router, menu, formPages };
}

/** What goes back to no login. */
export const NO_LOGIN = -1;

/** All that an app remembers between two requests. Records are numbered and never removed, so that reports can tell what became of them. */
export interface AppState {
  readonly accounts: ReadonlyMap<string, Account>;
  /**
   * How many logins there were, each with a number: what one way in handed out in one browser (session, tokens, a series of remember
   * tokens), and all that was got for it since.
   */
  readonly logins: number;
  readonly sessions: readonly SessionRecord[];
  readonly families: readonly TokenFamily[];
  readonly accessTokens: readonly AccessToken[];
  readonly refreshTokens: readonly RefreshToken[];
  /** Failed logins by account name, known or not. */
  readonly attempts: ReadonlyMap<string, FailedAttempts>;
  /** The browsers that identity providers know. */
  readonly providerSessions: readonly ProviderSession[];
  /** The codes that identity providers gave. */
  readonly codes: readonly ProviderCode[];
  /** The times that somebody was sent to an identity provider. */
  readonly asked: readonly AskedProvider[];
  /** The links that were sent to people. */
  readonly links: readonly LinkSent[];
  readonly remembered: readonly Remembered[];
  /** The keys of machines. */
  readonly keys: readonly ApiKey[];
  /** Whom accounts act for, where that is noted with the account. */
  readonly acting: ReadonlyMap<string, Acting>;
  /** When accounts were made of which that may be asked; all others were made long ago. */
  readonly joined: ReadonlyMap<string, Instant>;
  /** The switches that are on. */
  readonly flags: ReadonlySet<string>;
}

export interface SessionRecord {
  /** Whose it is; null for a guest's. */
  readonly account: string | null;
  /** The login that it goes back to; NO_LOGIN for a guest's, and while the login waits for its code. */
  readonly login: number;
  /** The login from which the absolute limit counts. */
  readonly startedAt: Instant;
  /** The activity from which the idle limit counts. */
  readonly activeAt: Instant;
  readonly ended: Reason | null;
  /** The tokens handed out by the same login. */
  readonly family: number | null;
  /** The roles at the login, for a policy that reads them only then. */
  readonly roles: ReadonlySet<string>;
  /** The one role that was picked at the login; null for all. */
  readonly asRole: string | null;
  /** Whether a one-time code was given. */
  readonly secondFactor: boolean;
  /** Whether it began by being known again, and not with a login. */
  readonly resumed: boolean;
  /** Whether the login is complete only with the code that it asked for. */
  readonly half: boolean;
  readonly code: CodeSent | null;
  /** The address that a guest asked for, where it waits in the session. */
  readonly asked: string | null;
  /** What the tokens of its forms are told by, which outlasts a renewal; null where forms carry none. */
  readonly secret: number | null;
  /** Whom whoever has it acts for; null for nobody. */
  readonly acting: Acting | null;
  /** The number of the last token of a form, where each is good once; else 0. */
  readonly tokens: number;
}

/** That somebody acts for another account. */
export interface Acting {
  readonly account: string;
  readonly since: Instant;
}

/** A key by which a machine is known. */
export interface ApiKey {
  readonly account: string;
  readonly madeAt: Instant;
  /** When another took its place; null while it is the one that the machine uses. */
  readonly replacedAt: Instant | null;
  readonly revoked: boolean;
}

/** A one-time code on its way. */
export interface CodeSent {
  readonly sentAt: Instant;
  readonly wrong: number;
  readonly remember: boolean;
  /** The login that asked for it, by its place among several. */
  readonly by: number;
}

/** The tokens that go back to one login. */
export interface TokenFamily {
  readonly account: string;
  /** The login that handed them out. */
  readonly login: number;
  readonly startedAt: Instant;
  readonly ended: Reason | null;
  readonly asRole: string | null;
  readonly secondFactor: boolean;
}

/** What stands inside a signed access token: the app trusts it without looking anything up. */
export interface AccessToken {
  readonly family: number;
  readonly roles: ReadonlySet<string>;
  readonly issuedAt: Instant;
  /** Whether it was got for a refresh token, and not with the login. */
  readonly renewed: boolean;
}

export interface RefreshToken {
  readonly family: number;
  readonly issuedAt: Instant;
  /** What a rotation has put in its place. */
  readonly replaced: { readonly at: Instant; readonly access: number; readonly refresh: number } | null;
}

export interface FailedAttempts {
  /** Those that still count towards the limit. */
  readonly failures: readonly Instant[];
  readonly pausedAt: Instant | null;
}

/** A link that was sent to somebody. */
export interface LinkSent {
  readonly kind: LinkKind;
  readonly account: string;
  readonly sentAt: Instant;
  readonly used: boolean;
}

/** A browser that an identity provider knows. */
export interface ProviderSession {
  readonly provider: string;
  /** Whom it is known as: an account of the app, or somebody whom the app does not know. */
  readonly person: string;
  readonly startedAt: Instant;
  readonly ended: boolean;
}

/** A code that an identity provider gave for somebody, which the app exchanges for who they are (RFC 6749 §4.1). */
export interface ProviderCode {
  readonly provider: string;
  readonly person: string;
  /** The request that it answers; -1 for one that the app did not make. */
  readonly asked: number;
  readonly used: boolean;
}

/** A request with which the app sent somebody to an identity provider. */
export interface AskedProvider {
  readonly provider: string;
  /** The address that they asked for first; null for none. */
  readonly back: string | null;
}

/** A token by which a visitor is known again. */
export interface Remembered {
  readonly account: string;
  /** The login that it goes back to: the tokens of one are a series. */
  readonly login: number;
  readonly issuedAt: Instant;
  /** Whether it was changed for another. */
  readonly used: boolean;
  readonly ended: boolean;
}

/** The state in which an app starts, at some second: its accounts, nobody signed in. */
export function initialState(policy: Policy, at: Seconds = 0): AppState {
  return {
    accounts: policy.accounts,
    logins: 0,
    sessions: [],
    families: [],
    accessTokens: [],
    refreshTokens: [],
    attempts: new Map(),
    providerSessions: [],
    codes: [],
    asked: [],
    links: [],
    remembered: [],
    keys: keysAtFirst(policy, instantOf(at)),
    acting: NOBODY,
    joined: joinedBefore(policy, at),
    flags: flagsAtFirst(policy),
  };
}

const NOBODY: AppState['acting'] = new Map();

/** The keys with which machines start. */
function keysAtFirst({ accounts }: Policy, madeAt: Instant): ApiKey[] {
  return [...accounts.values()].flatMap(({ name, key }) =>
    key ? [{ account: name, madeAt, replacedAt: null, revoked: false }] : [],
  );
}

const atFirst = new WeakMap<Policy, ReadonlySet<string>>();

/** The switches that are on when an app starts: the same set each time. */
export function flagsAtFirst(policy: Policy): ReadonlySet<string> {
  let on = atFirst.get(policy);
  if (on === undefined) {
    on = new Set([...policy.flags].flatMap(([name, isOn]) => (isOn ? [name] : [])));
    atFirst.set(policy, on);
  }
  return on;
}

/** When accounts of the policy were made that say so, before the app starts. */
function joinedBefore({ accounts }: Policy, start: Seconds): ReadonlyMap<string, Instant> {
  return new Map(
    [...accounts.values()].flatMap(({ name, joined }) =>
      joined === null ? [] : [[name, instantOf(start - joined)] as const],
    ),
  );
}

/** A state with some of it changed. Written out, since this is done several times in every request. */
export function changed(state: AppState, change: Partial<AppState>): AppState {
  return {
    accounts: change.accounts ?? state.accounts,
    logins: change.logins ?? state.logins,
    sessions: change.sessions ?? state.sessions,
    families: change.families ?? state.families,
    accessTokens: change.accessTokens ?? state.accessTokens,
    refreshTokens: change.refreshTokens ?? state.refreshTokens,
    attempts: change.attempts ?? state.attempts,
    providerSessions: change.providerSessions ?? state.providerSessions,
    codes: change.codes ?? state.codes,
    asked: change.asked ?? state.asked,
    links: change.links ?? state.links,
    remembered: change.remembered ?? state.remembered,
    keys: change.keys ?? state.keys,
    acting: change.acting ?? state.acting,
    joined: change.joined ?? state.joined,
    flags: change.flags ?? state.flags,
  };
}

/** A session's record with some of it changed, written out likewise. */
export function changedRecord(record: SessionRecord, change: Partial<SessionRecord>): SessionRecord {
  return {
    account: record.account,
    login: record.login,
    startedAt: record.startedAt,
    activeAt: change.activeAt ?? record.activeAt,
    ended: change.ended ?? record.ended,
    family: record.family,
    roles: record.roles,
    asRole: record.asRole,
    secondFactor: record.secondFactor,
    resumed: record.resumed,
    half: record.half,
    code: change.code === undefined ? record.code : change.code,
    asked: change.asked === undefined ? record.asked : change.asked,
    secret: record.secret,
    acting: change.acting === undefined ? record.acting : change.acting,
    tokens: change.tokens ?? record.tokens,
  };
}

type Handed = Credential | 'link' | 'provider' | 'code' | 'asked' | 'key';

/** What the browser holds of a record: its kind and number. */
export function handle(kind: Handed, index: number): string {
  return `${kind}-${index + 1}`;
}

/** The index of the record behind a handle; -1 for anything the app has not handed out. */
export function indexOf(kind: Handed, handed: string): number {
  if (!handed.startsWith(kind) || handed.charCodeAt(kind.length) !== 45) return -1;
  const digits = handed.slice(kind.length + 1);
  return /^[1-9]\d{0,9}$/.test(digits) ? Number(digits) - 1 : -1;
}

import { indexOf, type App, type AppState } from '../app/app.js';
import { shownIn } from '../app/own-cookies.js';
import { cookieHeader } from '../browser/cookie-jar.js';
import type { Client } from '../browser/client.js';
import type { BrowserState } from '../browser/state.js';
import type { CookieRules } from '../http/cookies.js';
import type { Policy } from '../language/policy.js';
import type { Clock, Instant } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { Deadline } from '../vocabulary/deadlines.js';
import type { Reason } from '../app/reasons.js';

/** All that is said of a kind of credential, but for how the app hands it out. One file a kind; `all-credentials.ts` lists them. */
export interface CredentialKind {
  readonly name: Credential;
  /** How many the app has on record. */
  recorded(state: AppState): number;
  /** Whose the one of a number is; null for a guest's, undefined where there is none. */
  ownerOf(state: AppState, index: number): string | null | undefined;
  /** The login that one goes back to; NO_LOGIN for a guest's. */
  loginOf(state: AppState, index: number): number;
  /** The other kind for one of which it was got; null where it came with a login, or for one of its own kind. */
  gotFor(state: AppState, index: number): Credential | null;
  /** Whether others are got for it, which may outlast it. */
  readonly getsMore: boolean;
  /** The app's records that one leads to, and that whoever shows it can change, as `family 2`. */
  recordsOf(state: AppState, index: number): readonly string[];
  /** Where browsers keep it: in cookies, or with script; null where the policy gives none. */
  place(policy: Policy): Keeping | null;
  /** Whether the app would still take it for somebody, whoever shows it. */
  counts(app: App, state: AppState, index: number, clock: Clock): boolean;
  /** Why one that does not count does not; null where that is simply over. */
  faultOf(app: App, state: AppState, index: number, clock: Clock): Reason | null;
  readonly limits: readonly Limit[];
  /** For how long a copy works at most by the policy's own limits; null where nothing limits it. */
  longest(policy: Policy): Seconds | null;
}

/** Where browsers keep something. */
export type Keeping =
  | {
      readonly by: 'cookie';
      readonly names: Pick<CookieRules, 'name' | 'others' | 'path'>;
      /** Whether script knows when it ends, and so that it is there. */
      readonly isToken: boolean;
    }
  | { readonly by: 'script'; readonly slot: 'access' | 'refresh' };

/** Something by which a credential comes to its end. */
export interface Limit {
  /** What reports call it, beside the credential. */
  readonly name: string;
  /** What a walk waits for; null where it cannot. */
  readonly deadline: Deadline | null;
  /** How long it lasts at most; null where the policy sets no such limit. */
  life(policy: Policy): Seconds | null;
  /** How long one lasts; left out: like all others. */
  lifeOf?(app: App, state: AppState, index: number): Seconds | null;
  /** Since when it counts; undefined where it does not. */
  since(policy: Policy, state: AppState, index: number): Instant | undefined;
}

/** The first second at which a limit is reached; null where there is none. */
export function endOf(limit: Limit, app: App, state: AppState, index: number): Seconds | null {
  const { policy } = app;
  const life = limit.lifeOf === undefined ? limit.life(policy) : limit.lifeOf(app, state, index);
  const since = limit.since(policy, state, index);
  return since === undefined || life === null ? null : since + life;
}

/** Whether an account may come in. */
export function isActive(state: AppState, account: string | null | undefined): boolean {
  return state.accounts.get(account ?? '')?.state === 'active';
}

/** The handle of a credential that a browser has; null where it has none. */
export function heldHandle(
  kind: CredentialKind,
  { app, client }: { readonly app: App; readonly client: Client },
  { cookies, tab }: BrowserState,
  clock: Clock,
): string | null {
  const place = kind.place(app.policy);
  if (place === null) return null;
  if (place.by === 'script') {
    const held = tab.tokens?.[place.slot] ?? null;
    return held === '' ? null : held;
  }
  if (cookies.length === 0) return null;
  const at = { origin: client.origin, path: place.names.path, query: '' };
  return shownIn(cookieHeader(cookies, at, clock), place.names);
}

/** The number of a credential of a kind; -1 for what is none. */
export function numberOf(kind: CredentialKind, handed: string | null): number {
  return handed === null ? -1 : indexOf(kind.name, handed);
}

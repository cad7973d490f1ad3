import type { Instant } from '../clock.js';
import type { Account, Policy } from '../language/policy.js';
import { Router } from './router.js';
import type { Reason } from './reasons.js';

/** A policy made ready to answer requests. It never changes; what changes is the state. */
export interface App {
  readonly policy: Policy;
  readonly router: Router;
}

/** Makes an app of a policy. */
export function createApp(policy: Policy): App {
  return { policy, router: new Router(policy) };
}

/** All that an app remembers between two requests. Records are numbered and never removed, so that reports can tell what became of them. */
export interface AppState {
  readonly accounts: ReadonlyMap<string, Account>;
  readonly sessions: readonly SessionRecord[];
  readonly families: readonly TokenFamily[];
  readonly accessTokens: readonly AccessToken[];
  readonly refreshTokens: readonly RefreshToken[];
}

export interface SessionRecord {
  readonly account: string;
  readonly startedAt: Instant;
  /** The activity from which the idle limit counts. */
  readonly activeAt: Instant;
  readonly ended: Reason | null;
  /** The tokens handed out by the same login. */
  readonly family: number | null;
}

/** The tokens that go back to one login. */
export interface TokenFamily {
  readonly account: string;
  readonly startedAt: Instant;
  readonly ended: Reason | null;
}

/** What stands inside a signed access token: the app trusts it without looking anything up. */
export interface AccessToken {
  readonly family: number;
  readonly roles: ReadonlySet<string>;
  readonly issuedAt: Instant;
}

export interface RefreshToken {
  readonly family: number;
  readonly issuedAt: Instant;
  /** Whether a rotation has put another in its place. */
  readonly replaced: boolean;
}

/** The state in which an app starts: its accounts, nobody signed in. */
export function initialState(policy: Policy): AppState {
  return { accounts: policy.accounts, sessions: [], families: [], accessTokens: [], refreshTokens: [] };
}

/** What the browser holds of a record: its kind and number. */
export function handle(kind: 'session' | 'access' | 'refresh', index: number): string {
  return `${kind}-${index + 1}`;
}

/** The index of the record behind a handle; -1 for anything the app has not handed out. */
export function indexOf(kind: 'session' | 'access' | 'refresh', handed: string): number {
  if (!handed.startsWith(kind) || handed.charCodeAt(kind.length) !== 45) return -1;
  const digits = handed.slice(kind.length + 1);
  return /^[1-9]\d{0,9}$/.test(digits) ? Number(digits) - 1 : -1;
}

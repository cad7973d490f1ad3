import type { Instant } from '../time/clock.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';

/**
 * A credential that goes back to a login that somebody logged out of, or to one from before something else after which the policy
 * promises something of it; whoever has it, and whenever it was handed out.
 */
export interface LeftBehind {
  readonly after: PromiseEvent;
  /** What of that login was copied at first: a credential of its own kind, or of that for which it was got. */
  readonly what: Credential;
  readonly handle: string;
  readonly at: Instant;
}

/** What laws remember of the steps before. */
export interface Memory {
  /** The address that a guest asked for before being sent to the login, by browser. */
  readonly asked: ReadonlyMap<string, string>;
  readonly leftBehind: readonly LeftBehind[];
  /** Credentials that were copied: their owner is no longer alone with them. */
  readonly copied: ReadonlySet<string>;
  /** When something was last taken from an account, and how. */
  readonly changed: ReadonlyMap<string, { readonly event: PromiseEvent; readonly at: Instant }>;
  /** Browsers in which somebody logged out, until the next login there. */
  readonly loggedOut: ReadonlySet<string>;
  /** The browsers that asked for a link to log in by, where such links are good in any. */
  readonly linksAsked: ReadonlySet<string>;
}

export const NOTHING_YET: Memory = {
  asked: new Map(),
  leftBehind: [],
  copied: new Set(),
  changed: new Map(),
  loggedOut: new Set(),
  linksAsked: new Set(),
};

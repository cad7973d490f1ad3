import type { Pattern } from '../paths/pattern.js';
import type { Seconds } from '../time/duration.js';
import type { Endpoint, Placed } from './text/placed.js';

/** How somebody acts for another account, and sees the app as they do. */
export interface Impersonation extends Placed {
  /** Starts it, for the account that its last parameter names. */
  readonly start: Endpoint & { readonly pattern: Pattern };
  readonly stop: Endpoint;
  /** The roles of those who may. */
  readonly by: readonly string[];
  /** The roles of those for whom they may. */
  readonly of: readonly string[];
  /** How long it lasts; null: until it is stopped. */
  readonly life: Seconds | null;
  /** What is closed meanwhile. */
  readonly not: readonly Pattern[];
  /** Where it is noted: in the session, which ends at a logout; or with the account, in all its browsers and after a logout. */
  readonly kept: 'session' | 'account';
}

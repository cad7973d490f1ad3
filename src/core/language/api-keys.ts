import type { Seconds } from '../time/duration.js';
import type { Placed } from './text/placed.js';

/** The keys by which machines are known, which have no password and no browser. */
export interface ApiKeyRules extends Placed {
  /** Where a request shows one: as a bearer token (RFC 6750 §2.1), in a header of its own, or in its address. */
  readonly sent: 'bearer' | 'header' | 'address';
  /** The name of the header, in lower case, or of the parameter of the query; `authorization` for a bearer token. */
  readonly name: string;
  /** How long one is taken; null: until it is called back. */
  readonly life: Seconds | null;
  /** How long the one before is still taken once there is another. */
  readonly overlap: Seconds;
}

import type { LiveConfig, Secrets, Stage } from '../core/internal.js';
import type { AppAddress } from './app-address.js';
import type { Transport } from './transport.js';

/** What all browsers of a run have in common. */
export interface Site {
  readonly stage: Stage;
  readonly config: LiveConfig;
  readonly address: AppAddress;
  readonly transport: Transport;
  readonly secrets: Secrets;
  /** Milliseconds since 1970 at which the virtual clock stands at zero. */
  readonly start: number;
}

import type { Method } from '../../http/messages.js';
import type { Path } from './yaml-text.js';

/** Something that stands at a place of the policy, which a report can point at. */
export interface Placed {
  readonly at: Path;
}

/** A request that the app has an endpoint of its own for. */
export interface Endpoint extends Placed {
  readonly method: Method;
  readonly path: string;
}

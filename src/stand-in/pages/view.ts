import type { Decided, HttpRequest, Path, Seconds } from '../../core/internal.js';
import type { Site } from '../site.js';
import type { Wire } from '../wire.js';
import type { Refusal } from './refusal.js';

/** What a page is drawn from: one answered request. */
export interface View {
  readonly site: Site;
  readonly wire: Wire;
  readonly request: HttpRequest;
  /** The host that it was sent to, without port: the stand-in's own, or one of the policy. */
  readonly host: string;
  readonly decided: Decided;
  readonly time: Seconds;
  /** The access token that the response hands out, signed; null where it hands none out. */
  readonly signed: string | null;
  readonly lastRefusal: Refusal | null;
  /** The line of the policy at which a place of it stands. */
  readonly lineOf: (place: Path) => number;
}

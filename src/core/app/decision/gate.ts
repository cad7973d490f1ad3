import type { Method } from '../../http/messages.js';
import type { Barrier } from '../../language/policy.js';
import type { Path } from '../../language/text/yaml-text.js';
import type { Clock } from '../../time/clock.js';
import type { App } from '../app.js';
import type { OpenForm } from '../come-again.js';
import type { Identity } from '../identify.js';
import type { Reason } from '../reasons.js';
import type { Route } from '../router.js';

/** A request as the gates look at it. Whoever cannot know something of it answers as if nothing hung on it. */
export interface Question {
  readonly app: App;
  readonly route: Route;
  readonly method: Method;
  readonly visitor: Identity;
  readonly clock: Clock;
  /** The first barrier that stops the visitor there; null for none. */
  stoppedBy(): Barrier | null;
  /** Whether the visitor is in the audience of the address: `served`, or why not. */
  admitted(): Reason;
  /** Whether the app takes the request to have come over https. */
  isSecure(): boolean;
  /** Whether it is refused for where it comes from (CWE-352). */
  isForeign(): boolean;
  /** The form that the visitor may use although its page is not for them; null for none. */
  openForm(): OpenForm;
}

/** What decides a request. */
export type DecidedBy =
  | 'https'
  | 'trailing-slash'
  | 'barrier'
  | 'acting'
  | 'own-form'
  | 'code-page'
  | 'audience'
  | 'options'
  | 'task'
  | 'nothing-there'
  | 'method'
  | 'page';

/** What a gate says of a request that does not pass it. */
export interface Decision {
  readonly by: DecidedBy;
  /** `served` where the visitor gets what they ask for, as far as what is done there lets them. */
  readonly reason: Reason;
  /** The place of the policy that decides. */
  readonly at: Path;
  /** The barrier that stops the visitor; left out where none does. */
  readonly barrier?: Barrier;
}

/** One of the things that are looked at in turn: what comes of a request there, or null where the next is asked. */
export type Gate = (question: Question) => Decision | null;

import type { HttpRequest, Method } from '../http/messages.js';
import type { Barrier } from '../language/policy.js';
import type { Clock } from '../time/clock.js';
import { admit } from './admit.js';
import type { App, AppState } from './app.js';
import { barrierBefore } from './barriers.js';
import { openForm, type OpenForm } from './come-again.js';
import { isForeign } from './csrf.js';
import type { Question } from './decision/gate.js';
import type { Identity } from './identify.js';
import type { Reason } from './reasons.js';
import type { Route } from './router.js';
import { speaksHttps } from './scheme.js';

/** A request that the app answers: what is asked, by whom, and in which state of the app. */
export class Asking implements Question {
  constructor(
    readonly app: App,
    readonly state: AppState,
    readonly request: HttpRequest,
    readonly route: Route,
    readonly visitor: Identity,
    readonly clock: Clock,
  ) {}

  get method(): Method {
    return this.request.method;
  }

  stoppedBy(): Barrier | null {
    return barrierBefore(this.app, this.route, this.visitor, this.clock);
  }

  admitted(): Reason {
    const { grounds, parameters } = this.route;
    return admit(grounds.audience, this.visitor, parameters, this.clock);
  }

  isSecure(): boolean {
    return speaksHttps(this.app, this.request);
  }

  isForeign(): boolean {
    return isForeign(this.app, this.state, this.request, this.route.task, this.visitor);
  }

  openForm(): OpenForm {
    return openForm(this.app, this.state, this.route, this.request, this.visitor, this.clock);
  }
}

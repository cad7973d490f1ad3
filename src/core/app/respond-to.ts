import type { Clock } from '../clock.js';
import { isSafe, METHODS, respond, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { Path } from '../language/yaml-text.js';
import { admit } from './admit.js';
import { explain, refuse, refuseWith, type Answer } from './answer.js';
import type { App, AppState } from './app.js';
import { identify, type Identity } from './identify.js';
import { login } from './login.js';
import { logout } from './logout.js';
import type { Reason } from './reasons.js';
import type { Route } from './router.js';
import { renewSession } from './sessions.js';
import { refresh } from './tokens.js';

const PAGE: HttpResponse = respond(200, { body: { kind: 'page' } });

/**
 * The app half: answers one request. Pure: the same app, state, request and instant always give the same answer, and the
 * state that is passed in is left as it was.
 */
export function respondTo(app: App, state: AppState, request: HttpRequest, clock: Clock): Answer {
  const route = app.router.find(request.path);
  const visitor = identify(app, state, request, clock);
  if (route === null) return finish(app, state, refuseWith(400, request), visitor, 'unsafe-path', [], clock);

  const task = route.tasks.find((each) => each.method === request.method);
  if (task === undefined) return visitPage(app, state, request, route, visitor, clock);
  const admitted = admit(task.grounds.audience, visitor, route.parameters);
  if (admitted !== 'served') {
    return finish(
      app,
      state,
      refuse(app, route, request, visitor, admitted),
      visitor,
      admitted,
      task.grounds.at,
      clock,
    );
  }
  switch (task.task) {
    case 'login':
      return login(app, state, request, task.grounds, clock);
    case 'logout':
      return logout(app, state, request);
    case 'refresh':
      return refresh(app, state, request, task.grounds, clock);
  }
}

/** Audience first, then existence, then method. What no rule speaks of does not exist, for anybody. */
function visitPage(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route,
  visitor: Identity,
  clock: Clock,
): Answer {
  const grounds = isSafe(request.method) ? route.read : route.write;
  const end = (response: HttpResponse, reason: Reason, at = grounds.at) =>
    finish(app, state, response, visitor, reason, at, clock);
  const missing = route.page === null && route.tasks.length === 0;
  if (!missing || route.rule !== null) {
    const admitted = admit(grounds.audience, visitor, route.parameters);
    if (admitted !== 'served') return end(refuse(app, route, request, visitor, admitted), admitted);
  }
  if (missing) {
    const response = refuse(app, route, request, visitor, 'unknown-page');
    return end(response, 'unknown-page', route.rule?.at ?? ['pages']);
  }
  if (route.page === null) {
    const allow = METHODS.filter((method) => route.tasks.some((task) => task.method === method));
    return end(refuseWith(405, request, allow), 'method-not-allowed');
  }
  return end(PAGE, 'served');
}

/** Every request of somebody known by a session counts as activity, a refused one too. */
function finish(
  app: App,
  state: AppState,
  response: HttpResponse,
  visitor: Identity,
  reason: Reason,
  decidedBy: Path,
  clock: Clock,
): Answer {
  const explanation = explain(visitor.account, reason, decidedBy);
  if (visitor.session < 0) return { state, response, explanation };
  const renewed = renewSession(app, state, visitor.session, clock);
  if (renewed.setCookie === null) return { state: renewed.state, response, explanation };
  return { state: renewed.state, response: { ...response, setCookie: [renewed.setCookie] }, explanation };
}

import type { Clock } from '../time/clock.js';
import { hostOf } from '../http/address.js';
import {
  isSafe,
  METHODS,
  respond,
  type HttpRequest,
  type HttpResponse,
  type Method,
} from '../http/messages.js';
import type { Path } from '../language/yaml-text.js';
import { withAccount, withFacts } from './administration.js';
import { closedBy, closedWhileActing } from './acting.js';
import { admit } from './admit.js';
import { barrierBefore, passedOn, stopAt } from './barriers.js';
import {
  explain,
  loginFor,
  redirect,
  refusalFor,
  refuse,
  refuseWith,
  takesUp,
  type Answer,
  type Explanation,
} from './answer.js';
import type { App, AppState } from './app.js';
import { identify, identityOf, type Identity } from './identify.js';
import { openForm } from './come-again.js';
import { isForeign, withToken } from './csrf.js';
import { keepAsked, startsSession } from './guest-session.js';
import { servePage } from './page.js';
import { perform } from './perform.js';
import type { Reason } from './reasons.js';
import { resume } from './remember.js';
import type { Route } from './router.js';
import { sendCode, sendCodeOnce } from './second-factor.js';
import { renewSession, startGuestSession } from './sessions.js';

/** An answer with what it was decided on. */
export interface Decided extends Answer {
  readonly visitor: Identity;
  readonly route: Route | null;
}

const NO_COOKIES: readonly string[] = [];
const NOTHING = { kind: 'empty' } as const;

/**
 * The app half: answers one request. Pure: the same app, state, request and instant always give the same answer, and the
 * state that is passed in is left as it was.
 */
export function respondTo(app: App, before: AppState, request: HttpRequest, clock: Clock): Decided {
  const route = app.router.find(request.method, request.path, hostFor(app, request), request.client);
  let state = before;
  let visitor = identify(app, state, request, clock);
  let handed = NO_COOKIES;
  // A login that waits for its code goes before a cookie by which somebody is only known again.
  const mayResume = app.policy.remember !== null && visitor.account === null && !isHalf(state, visitor);
  if (mayResume) {
    const isOpen =
      route !== null && admit(route.grounds.audience, visitor, route.parameters, clock) === 'served';
    const back = resume(app, state, request, isOpen, visitor.session, clock);
    ({ state } = back);
    if (back.session >= 0) {
      handed = back.setCookie;
      visitor = identityOf(app, state, back.session, clock);
    }
  }
  const answer = decide(app, state, request, route, visitor, clock);
  let { session } = visitor;
  state = answer.state;
  if (startsSession(app, request, answer.response, route, visitor, clock)) {
    const started = startGuestSession(app, state, clock);
    ({ state, session } = started);
    handed = started.setCookie;
  }
  const shown = withToken(app, state, session, answer.response);
  const whole = shown.response;
  // RFC 9110 §9.3.2: what GET would be answered with, but for the content.
  const response = request.method === 'HEAD' ? { ...whole, body: NOTHING } : whole;
  const setCookie = handed.length === 0 ? response.setCookie : [...handed, ...response.setCookie];
  const open =
    setCookie.length === 0 || believesHttps(app, request)
      ? setCookie
      : setCookie.filter((header) => !header.includes('; Secure'));
  const explanation = withActor(answer.explanation, visitor);
  return {
    state: shown.state,
    response: open === response.setCookie ? response : { ...response, setCookie: open },
    explanation: open.length === setCookie.length ? explanation : { ...explanation, cookieWithheld: true },
    visitor,
    route,
  };
}

/** An explanation that names whoever acts for the account, where somebody does. */
function withActor(explanation: Explanation, { account, actedBy }: Identity): Explanation {
  return actedBy === null || explanation.seenAs !== account ? explanation : { ...explanation, actedBy };
}

/** Whether a login of the visitor waits for its code. */
function isHalf({ sessions }: AppState, { session }: Identity): boolean {
  return session >= 0 && sessions[session]?.half === true;
}

/** Whether the app takes a request to have come over https. Behind a proxy that ends TLS it has only the proxy's word. */
export function believesHttps(app: App, request: HttpRequest): boolean {
  const { proxy } = app.policy;
  // Without a proxy a browser that would not keep the cookie is the browser's own affair: it is told all the same.
  return proxy === null || !proxy.endsTls || (proxy.trusted && request.origin.startsWith('https:'));
}

function decide(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route | null,
  visitor: Identity,
  clock: Clock,
): Answer {
  const end = (response: HttpResponse, reason: Reason, at: Path, after = state) =>
    finish(app, after, response, visitor, reason, at, clock);
  if (route === null) return end(refuseWith(400, request), 'unsafe-path', []);
  if (route.rule?.onlyHttps === true && !speaksHttps(app, request)) {
    // The path as it was read, not as it was sent: two slashes at its start would lead off the site.
    const location = `https://${hostOf(request.origin)}${route.path}${request.query}`;
    return end(respond(308, { location }), 'insecure-scheme', route.rule.at);
  }
  if (route.hasSlash) {
    // The method stays; slashes at the start that are kept would lead off the site here too. One at the end goes.
    const location = route.path.replace(/^\/+/, '/').replace(/(?<=.)\/$/, '') + request.query;
    return end(respond(308, { location }), 'forwarded', ['routing', 'trailing-slash']);
  }
  const barrier = barrierBefore(app, route, visitor, clock);
  if (barrier !== null) return end(stopAt(app, barrier, route, request), 'barrier', barrier.at);
  const { impersonation } = app.policy;
  const closed = closedWhileActing(impersonation, app.router, route, visitor);
  if (impersonation !== null && closed >= 0) {
    const response = refuse(app, route, request, visitor, 'acting');
    return end(response, 'acting', closedBy(impersonation, closed));
  }
  const foreign = () => isForeign(app, state, request, route.task, visitor);
  const refuseForeign = () =>
    end(refuseWith(app.policy.csrf?.refused ?? 403, request), 'csrf-refused', ['csrf']);
  if (app.policy.csrf?.order === 'before-guard' && foreign()) return refuseForeign();
  const missing = route.page === null && route.taskMethods.length === 0;
  // The shell of a page that is guarded in the browser is given to anybody.
  const isGuardedByScript =
    route.page !== null && route.guard === 'browser' && isSafe(request.method) && route.task === null;
  const shell = isGuardedByScript && route.isAnswered;
  if (isGuarded(route) && !shell) {
    const admitted = admit(route.grounds.audience, visitor, route.parameters, clock);
    const form = openForm(app, state, route, request, visitor, clock);
    if (form === 'code' && route.task === null) {
      const { response } = servePage(app, route, request, visitor, clock);
      return end(response, 'served', route.grounds.at, sendCodeOnce(state, visitor, clock));
    }
    if (admitted !== 'served' && form === null) {
      const after = admitted === 'code-needed' ? sendCode(state, visitor, clock) : state;
      return turnAway(app, after, request, route, visitor, admitted, clock);
    }
  }
  if (app.policy.csrf?.order === 'after-guard' && foreign()) return refuseForeign();
  if (request.method === 'OPTIONS' && !missing) {
    return end(respond(204, { allow: methodsOf(route) }), 'served', route.grounds.at);
  }
  if (route.task !== null) {
    const answer = perform(app, state, request, route, route.task, visitor, clock);
    return { ...answer, state: writtenAt(route, request, answer) };
  }
  if (missing) {
    const at = route.rule?.at ?? ['pages'];
    return end(refuse(app, route, request, visitor, 'unknown-page'), 'unknown-page', at);
  }
  if (!route.isAnswered) return refuseMethod(app, state, request, route, visitor, clock);
  const served = servePage(app, route, request, visitor, clock);
  const after = written(state, route, request, visitor.account);
  const back = after === state ? null : backFrom(app, after, route, request, visitor, clock);
  const response = back === null ? served.response : redirect(request.method, back);
  return end(response, served.reason, served.at, after);
}

/** Whether an address asks whom it is for, before it says what there is. */
export function isGuarded({ isAnswered, page, taskMethods, rule }: Route): boolean {
  return isAnswered || (page === null && taskMethods.length > 0) || rule !== null;
}

/** The place that says which methods an address answers. */
export function methodsPlace({ page, grounds }: Route): Path {
  return page === null ? grounds.at : [...page.at, 'methods'];
}

/** Where somebody was going whom a barrier stopped until they wrote this; null for nowhere. */
function backFrom(
  app: App,
  { accounts }: AppState,
  route: Route,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): string | null {
  const facts = accounts.get(visitor.account ?? '')?.facts;
  return facts === undefined ? null : passedOn(app, route, request, visitor, { ...visitor, facts }, clock);
}

/** The app after a page was written to: the visitor has the facts that the page gives. */
function written(state: AppState, { page }: Route, { method }: HttpRequest, name: string | null): AppState {
  const sets = page?.sets ?? null;
  if (sets === null || isSafe(method) || name === null) return state;
  return withAccount(state, name, (account) => withFacts(account, sets));
}

/** The app after what an endpoint does was done for somebody: they have the facts that the page of the same path gives. */
function writtenAt(
  route: Route,
  request: HttpRequest,
  { state, explanation: { seenAs, reason } }: Answer,
): AppState {
  const isDone = reason === 'served' || reason === 'unsafe-return';
  return isDone ? written(state, route, request, seenAs) : state;
}

/** Refuses a visitor; where an address to come back to is kept in the session, it is put there. */
function turnAway(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route,
  visitor: Identity,
  reason: Reason,
  clock: Clock,
): Answer {
  const response = refuse(app, route, request, visitor, reason);
  const refusal = refusalFor(route, visitor, reason);
  const { to } = refusal;
  const rules = loginFor(app, refusal)?.return ?? null;
  if (
    rules?.kept !== 'session' ||
    !takesUp(rules, request.method) ||
    (to !== 'login' && to !== 'code-page')
  ) {
    return finish(app, state, response, visitor, reason, route.grounds.at, clock);
  }
  const kept = keepAsked(app, state, visitor, route.path + request.query, clock);
  const answer = finish(app, kept.state, response, visitor, reason, route.grounds.at, clock);
  if (kept.setCookie.length === 0) return answer;
  return {
    ...answer,
    response: { ...answer.response, setCookie: [...kept.setCookie, ...answer.response.setCookie] },
  };
}

/** Refuses a method that an address does not answer; one that is to look as if it did not exist names no others (RFC 9110 §15.5.6). */
function refuseMethod(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route,
  visitor: Identity,
  clock: Clock,
): Answer {
  const status = route.refusals.method;
  const known = route.page === null ? route.taskMethods : methodsOf(route);
  const response = refuseWith(status, request, status === 405 ? known : []);
  return finish(app, state, response, visitor, 'method-not-allowed', methodsPlace(route), clock);
}

/** What an address can be asked with, whoever may (RFC 9110 §9.3.7): a page all methods or those it names, an endpoint its own. */
function methodsOf({ page, taskMethods }: Route): readonly Method[] {
  const own = page === null ? taskMethods : (page.answers ?? METHODS);
  const all = new Set<Method>([
    ...own,
    ...taskMethods,
    'OPTIONS',
    ...(own.includes('GET') && page !== null ? (['HEAD'] as const) : []),
  ]);
  return METHODS.filter((method) => all.has(method));
}

/** The host that a request was sent to; undefined for the usual one, which most are. */
function hostFor(app: App, { origin }: HttpRequest): string | undefined {
  return origin === app.policy.origin ? undefined : hostOf(origin);
}

function speaksHttps(app: App, request: HttpRequest): boolean {
  return request.origin.startsWith('https:') && believesHttps(app, request);
}

/** Every request of somebody known by a session, or of a guest with one, counts as activity, a refused one too. */
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
  if (visitor.session < 0 || isHalf(state, visitor)) return { state, response, explanation };
  const renewed = renewSession(app, state, visitor.session, clock);
  if (renewed.setCookie.length === 0) return { state: renewed.state, response, explanation };
  return { state: renewed.state, response: { ...response, setCookie: renewed.setCookie }, explanation };
}

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
import { withAccount, withFacts } from './administration.js';
import { admit } from './admit.js';
import { passedOn, stopAt } from './barriers.js';
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
import { Asking } from './asking.js';
import { decide } from './decision/decide.js';
import type { DecidedBy, Decision } from './decision/gate.js';
import { believesHttps } from './scheme.js';
import { identify, identityOf, type Identity } from './identify.js';
import { withToken } from './csrf.js';
import { keepAsked, startsSession } from './guest-session.js';
import { servePage, type Served } from './page.js';
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
const UNREADABLE = { reason: 'unsafe-path', at: [] } as const;
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
  // Of a path that cannot be read nothing of the policy is asked.
  const answer =
    route === null
      ? finish({ app, state, visitor, clock }, refuseWith(400, request), UNREADABLE)
      : answerTo(new Asking(app, state, request, route, visitor, clock));
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

/** What comes of a request that is decided. */
function answerTo(asking: Asking): Answer {
  const decision = decide(asking);
  return ANSWERS[decision.by](asking, decision);
}

/** How each decision is answered. */
const ANSWERS: Readonly<Record<DecidedBy, (asking: Asking, decision: Decision) => Answer>> = {
  // The path as it was read, not as it was sent: two slashes at its start would lead off the site.
  https: (asking, decision) =>
    sentOn(asking, decision, `https://${hostOf(asking.request.origin)}${asking.route.path}`),
  // The method stays; slashes at the start that are kept would lead off the site here too. One at the end goes.
  'trailing-slash': (asking, decision) =>
    sentOn(asking, decision, asking.route.path.replace(/^\/+/, '/').replace(/(?<=.)\/$/, '')),
  barrier(asking, decision) {
    const { app, route, request } = asking;
    if (decision.barrier === undefined) throw new Error('a barrier that is none');
    return finish(asking, stopAt(app, decision.barrier, route, request), decision);
  },
  acting: (asking, decision) => finish(asking, refusedFor(asking, decision.reason), decision),
  'own-form': (asking, decision) =>
    finish(asking, refuseWith(asking.app.policy.csrf?.refused ?? 403, asking.request), decision),
  'code-page'(asking, decision) {
    const { state, visitor, clock } = asking;
    return finish(asking, served(asking).response, decision, sendCodeOnce(state, visitor, clock));
  },
  audience: turnAway,
  options: (asking, decision) => finish(asking, respond(204, { allow: methodsOf(asking.route) }), decision),
  task(asking) {
    const answer = perform(asking);
    return { ...answer, state: writtenAt(asking, answer) };
  },
  'nothing-there': (asking, decision) => finish(asking, refusedFor(asking, decision.reason), decision),
  method: refuseMethod,
  page(asking) {
    const { state, visitor, request } = asking;
    const { response, reason, at } = served(asking);
    const after = written(state, asking, visitor.account);
    const back = after === state ? null : backFrom(asking, after);
    return finish(asking, back === null ? response : redirect(request.method, back), { reason, at }, after);
  },
};

function sentOn(asking: Asking, decision: Decision, address: string): Answer {
  return finish(asking, respond(308, { location: address + asking.request.query }), decision);
}

function refusedFor({ app, route, request, visitor }: Asking, reason: Reason): HttpResponse {
  return refuse(app, route, request, visitor, reason);
}

function served({ app, route, request, visitor, clock }: Asking): Served {
  return servePage(app, route, request, visitor, clock);
}

/** Where somebody was going whom a barrier stopped until they wrote this; null for nowhere. */
function backFrom({ app, route, request, visitor, clock }: Asking, { accounts }: AppState): string | null {
  const facts = accounts.get(visitor.account ?? '')?.facts;
  return facts === undefined ? null : passedOn(app, route, request, visitor, { ...visitor, facts }, clock);
}

/** The app after a page was written to: the visitor has the facts that the page gives. */
function written(state: AppState, { route: { page }, method }: Asking, name: string | null): AppState {
  const sets = page?.sets ?? null;
  if (sets === null || isSafe(method) || name === null) return state;
  return withAccount(state, name, (account) => withFacts(account, sets));
}

/** The app after what an endpoint does was done for somebody: they have the facts that the page of the same path gives. */
function writtenAt(asking: Asking, { state, explanation: { seenAs, reason } }: Answer): AppState {
  const isDone = reason === 'served' || reason === 'unsafe-return';
  return isDone ? written(state, asking, seenAs) : state;
}

/** Refuses a visitor; where an address to come back to is kept in the session, it is put there. */
function turnAway(asking: Asking, decision: Decision): Answer {
  const { app, request, route, visitor, clock } = asking;
  const { reason } = decision;
  const state = reason === 'code-needed' ? sendCode(asking.state, visitor, clock) : asking.state;
  const response = refusedFor(asking, reason);
  const refusal = refusalFor(route, visitor, reason);
  const { to } = refusal;
  const rules = loginFor(app, refusal)?.return ?? null;
  if (
    rules?.kept !== 'session' ||
    !takesUp(rules, request.method) ||
    (to !== 'login' && to !== 'code-page')
  ) {
    return finish(asking, response, decision, state);
  }
  const kept = keepAsked(app, state, visitor, route.path + request.query, clock);
  const answer = finish(asking, response, decision, kept.state);
  if (kept.setCookie.length === 0) return answer;
  return {
    ...answer,
    response: { ...answer.response, setCookie: [...kept.setCookie, ...answer.response.setCookie] },
  };
}

/** Refuses a method that an address does not answer; one that is to look as if it did not exist names no others (RFC 9110 §15.5.6). */
function refuseMethod(asking: Asking, decision: Decision): Answer {
  const { route, request } = asking;
  const status = route.refusals.method;
  const known = route.page === null ? route.taskMethods : methodsOf(route);
  return finish(asking, refuseWith(status, request, status === 405 ? known : []), decision);
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

/** Every request of somebody known by a session, or of a guest with one, counts as activity, a refused one too. */
function finish(
  { app, state: before, visitor, clock }: Pick<Asking, 'app' | 'state' | 'visitor' | 'clock'>,
  response: HttpResponse,
  { reason, at }: Pick<Decision, 'reason' | 'at'>,
  state = before,
): Answer {
  const explanation = explain(visitor.account, reason, at);
  if (visitor.session < 0 || isHalf(state, visitor)) return { state, response, explanation };
  const renewed = renewSession(app, state, visitor.session, clock);
  if (renewed.setCookie.length === 0) return { state: renewed.state, response, explanation };
  return { state: renewed.state, response: { ...response, setCookie: renewed.setCookie }, explanation };
}

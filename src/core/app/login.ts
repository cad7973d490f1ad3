import type { Clock } from '../clock.js';
import { resolveAddress, withParameter } from '../http/address.js';
import { cookieValue } from '../http/cookies.js';
import { respond, type HttpRequest } from '../http/messages.js';
import type { Account, Login } from '../language/policy.js';
import type { Path } from '../language/yaml-text.js';
import { admit } from './admit.js';
import { explain, redirect, refuseWith, type Answer } from './answer.js';
import { indexOf, type App, type AppState } from './app.js';
import type { Identity } from './identify.js';
import { landingEntry } from './landing.js';
import { acceptedReturn } from './return-address.js';
import type { Reason } from './reasons.js';
import type { Grounds } from './router.js';
import { endSession, startSession } from './sessions.js';
import { startFamily } from './tokens.js';

/** The login endpoint, for a visitor who is in its audience. */
export function login(
  app: App,
  state: AppState,
  request: HttpRequest,
  grounds: Grounds,
  clock: Clock,
): Answer {
  const rules = app.policy.login;
  if (rules === null) throw new Error('a login endpoint without login rules');
  const account = state.accounts.get(request.form.get('account') ?? '');
  if (account === undefined || request.form.get('password') !== account.password) {
    return refuseAttempt(rules, state, request, rules.submit.at, 'wrong-password');
  }
  if (account.state !== 'active') {
    return refuseAttempt(rules, state, request, [...account.at, 'state'], account.state);
  }
  const where = destination(app, rules, request, account);
  const started = handOut(app, rules, endShown(app, state, request), account, where.location ?? '/', clock);
  const explanation = explain(account.name, where.reason, where.at);
  if (where.location === null) {
    return {
      state: started.state,
      response: { ...refuseWith(404, request), setCookie: started.setCookie },
      explanation,
    };
  }
  const response =
    started.body === null
      ? redirect(request.method, where.location, started.setCookie)
      : respond(200, { setCookie: started.setCookie, body: started.body });
  return { state: started.state, response, explanation };
}

/** A session id that was there before the login must not be good after it (CWE-384). */
function endShown(app: App, state: AppState, request: HttpRequest): AppState {
  const shown = cookieValue(request.cookie, app.policy.session.cookie.name);
  return shown === null ? state : endSession(state, indexOf('session', shown), 'signed-out');
}

/** Hands out what `login.by` says: a session, tokens, or both tied together. */
function handOut(app: App, rules: Login, before: AppState, account: Account, next: string, clock: Clock) {
  const { tokens } = app.policy;
  if (rules.by === 'session' || tokens === null) {
    const session = startSession(app, before, account.name, null, clock);
    return { state: session.state, setCookie: [session.setCookie], body: null };
  }
  const { state, body } = startFamily(before, tokens, account.name, next, clock);
  if (rules.by === 'tokens') return { state, setCookie: [], body };
  const session = startSession(app, state, account.name, before.families.length, clock);
  return { state: session.state, setCookie: [session.setCookie], body };
}

interface Destination {
  readonly location: string | null;
  readonly reason: Reason;
  readonly at: Path;
}

/** Where a login leads: the address asked for first when it is accepted and allowed, else the landing. */
function destination(app: App, rules: Login, request: HttpRequest, account: Account): Destination {
  const asked = rules.return === null ? undefined : request.form.get(rules.return.param);
  if (rules.return === null || asked === undefined) return toLanding(app, account, 'served');
  const accepted = acceptedReturn(rules.return, asked, app.policy.origin);
  if (accepted === null) return toLanding(app, account, 'unsafe-return');
  if (rules.return.onlyIfAllowed && !mayRead(app, accepted, account)) {
    return toLanding(app, account, 'served');
  }
  return { location: accepted, at: rules.return.at, reason: 'served' };
}

function toLanding(app: App, account: Account, reason: Reason): Destination {
  const entry = landingEntry(app.policy, account.roles);
  return entry === null
    ? { location: null, at: ['landing'], reason: 'unknown-page' }
    : { location: entry.to, at: entry.at, reason };
}

/** Whether an account would be shown an address. One on another site is not for this app to judge. */
function mayRead(app: App, location: string, account: Account): boolean {
  const address = resolveAddress(location, { origin: app.policy.origin, path: '/', query: '' });
  if (address === null || address.origin !== app.policy.origin) return true;
  const route = app.router.find(address.path);
  if (route === null || route.page === null) return false;
  const visitor: Identity = {
    account: account.name,
    roles: account.roles,
    by: 'session',
    session: -1,
    reason: 'served',
  };
  return admit(route.read.audience, visitor, route.parameters) === 'served';
}

function refuseAttempt(
  rules: Login,
  state: AppState,
  request: HttpRequest,
  at: Path,
  reason: Reason,
): Answer {
  const asked = rules.return === null ? undefined : request.form.get(rules.return.param);
  const next =
    rules.return === null || asked === undefined
      ? rules.wrong
      : withParameter(rules.wrong, rules.return.param, asked);
  const response =
    request.accept === 'application/json'
      ? respond(403, { body: { kind: 'refused-login', next } })
      : redirect(request.method, next);
  return { state, response, explanation: explain(null, reason, at) };
}

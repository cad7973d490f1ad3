import type { Clock } from '../time/clock.js';
import { withParameter } from '../http/address.js';
import { respond, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { Account, Login } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { explain, redirect, refuseWith, type Answer } from './answer.js';
import type { App, AppState } from './app.js';
import { isTaken } from './at-once.js';
import { countFailure, forgetFailures, isPaused } from './attempts.js';
import { GUEST } from './identify.js';
import { takes } from './logins.js';
import { asRefusal, showAgain } from './page.js';
import type { Reason } from './reasons.js';
import { askedFor } from './return-address.js';
import { askForCode } from './second-factor.js';
import { letIn, shownSession, type Entrant } from './way-in.js';

/** The endpoint of a login, for a visitor who is in its audience. */
export function login(
  app: App,
  rules: Login,
  state: AppState,
  request: HttpRequest,
  isApi: boolean,
  clock: Clock,
): Answer {
  const name = request.form.get('account') ?? '';
  const refuseAttempt = (after: AppState, at: Path, reason: Reason): Answer => ({
    state: after,
    response: refusedAttempt(app, rules, request, isApi, clock),
    explanation: explain(null, reason, at),
  });
  if (isPaused(rules, state, name, clock)) {
    return refuseAttempt(state, [...rules.at, 'attempts'], 'locked-out');
  }
  const account = state.accounts.get(name);
  if (account === undefined || account.key || request.form.get('password') !== account.password) {
    const counted = countFailure(rules, state, name, clock);
    return refuseAttempt(counted, rules.submit.at, 'wrong-password');
  }
  if (!takes(rules, account)) {
    return refuseAttempt(countFailure(rules, state, name, clock), [...rules.at, 'takes'], 'other-login');
  }
  if (account.state !== 'active') {
    return refuseAttempt(state, [...account.at, 'state'], account.state);
  }
  if (isTaken(app, state, name, shownSession(app, request), clock)) {
    return refuseAttempt(state, ['session', 'at-once'], 'locked-out');
  }
  const asRole = pickRole(rules, account, request.form.get('role') ?? null);
  if (asRole === undefined) return refuseAttempt(state, [...rules.at, 'as-role'], 'role');
  const forgotten = forgetFailures(state, name);
  const entrant: Entrant = {
    by: rules,
    account,
    asRole,
    secondFactor: false,
    asked: askedFor(rules, request),
    lands: null,
    remember: request.form.get('remember') === 'yes',
  };
  const owesCode = account.secondFactor && app.policy.secondFactor?.asked === 'at-login';
  return owesCode
    ? askForCode(app, forgotten, request, entrant, clock)
    : letIn(app, forgotten, request, entrant, clock);
}

/** The role that somebody logs in as: the one picked, or the first of several; undefined for one they were not given. */
function pickRole(rules: Login, account: Account, picked: string | null): string | null | undefined {
  if (!rules.asRole || account.given.length < 2) return null;
  if (picked === null) return account.given[0];
  return account.given.includes(picked) ? picked : undefined;
}

/** Sends a refused attempt back to the form, with the address that was asked for first, or shows it again in the answer. */
function refusedAttempt(
  app: App,
  rules: Login,
  request: HttpRequest,
  isApi: boolean,
  clock: Clock,
): HttpResponse {
  const byScript = request.accept === 'application/json';
  if (rules.shownAgain !== null) {
    return byScript || isApi
      ? refuseWith(asRefusal(rules.shownAgain), request)
      : showAgain(app, rules.form, rules.shownAgain.status, GUEST, clock);
  }
  if (isApi && rules.wrong === rules.page) return refuseWith(401, request);
  const asked = askedFor(rules, request);
  const next =
    rules.return === null || asked === null
      ? rules.wrong
      : withParameter(rules.wrong, rules.return.param, asked);
  return byScript ? respond(403, { body: { kind: 'refused-login', next } }) : redirect(request.method, next);
}

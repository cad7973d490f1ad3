import type { Clock } from '../time/clock.js';
import { withParameter } from '../http/address.js';
import type { HttpRequest } from '../http/messages.js';
import type { Login } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { explain, refuseWith, type Answer } from './answer.js';
import { NO_LOGIN, type App, type AppState, type SessionRecord } from './app.js';
import type { Identity } from './identify.js';
import { asRefusal, showAgain } from './page.js';
import type { Reason } from './reasons.js';
import { changeSession, endSession, startSession } from './sessions.js';
import { askedFor } from './return-address.js';
import { askedIn, goOn, letIn, shownSession, type Entrant } from './way-in.js';

/** The code that is right; every other text is wrong. */
export const RIGHT_CODE = 'right';

/** Begins a login that a one-time code completes: a half session, which reaches no more than a guest does. */
export function askForCode(
  app: App,
  before: AppState,
  request: HttpRequest,
  entrant: Entrant,
  clock: Clock,
): Answer {
  const rules = app.policy.secondFactor;
  if (rules === null) throw new Error('a code is asked for without rules for it');
  const under = shownSession(app, request);
  const { by } = entrant;
  const renews = by.renewSessionId;
  const state = renews ? endSession(app, before, under, 'signed-out') : before;
  const { account, asRole } = entrant;
  const start = {
    account: account.name,
    login: NO_LOGIN,
    family: null,
    roles: account.roles,
    asRole,
    secondFactor: false,
    resumed: false,
    half: true,
    code: { sentAt: clock.now, wrong: 0, remember: entrant.remember, by: app.policy.logins.indexOf(by) },
    asked: askedIn(app, by, before, request, null),
  };
  const started = startSession(app, state, start, renews ? -1 : under, clock);
  return {
    state: started.state,
    response: goOn(request, withAsked(by, entrant.asked, rules.page), started.setCookie),
    explanation: explain(null, 'code-needed', [...account.at, 'second-factor']),
  };
}

/** Sends a code to somebody who is signed in and at a page that asks for one. */
export function sendCode(state: AppState, visitor: Identity, clock: Clock): AppState {
  if (visitor.session < 0 || visitor.account === null) return state;
  return changeSession(state, visitor.session, {
    code: { sentAt: clock.now, wrong: 0, remember: false, by: 0 },
  });
}

/** Whether somebody who is signed in still owes a code: they may use the page for it, whomever that is for. */
export function owesCode({ accounts, sessions }: AppState, visitor: Identity): boolean {
  if (visitor.account === null || visitor.session < 0 || visitor.secondFactor) return false;
  const isSent = (sessions[visitor.session]?.code ?? null) !== null;
  return isSent || accounts.get(visitor.actedBy ?? visitor.account)?.secondFactor === true;
}

/** Sends a code to somebody who owes one and was sent none, or leaves the one that was sent. */
export function sendCodeOnce(state: AppState, visitor: Identity, clock: Clock): AppState {
  const isSent = (state.sessions[visitor.session]?.code ?? null) !== null;
  return isSent ? state : sendCode(state, visitor, clock);
}

/** The endpoint that takes a code, for a visitor who is in its audience. */
export function takeCode(
  app: App,
  state: AppState,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): Answer {
  const rules = app.policy.secondFactor;
  const record = state.sessions[visitor.session];
  const login = app.policy.logins[record?.code?.by ?? 0] ?? app.policy.login;
  const page = login?.page ?? '/';
  const again = rules?.shownAgain ?? null;
  const refused = (after: AppState, to: string, reason: Reason, at: Path): Answer => {
    const isShown = again !== null && to === rules?.page;
    const response = !isShown
      ? goOn(request, withAsked(login, login === null ? null : askedFor(login, request), to), [])
      : request.accept === 'application/json'
        ? refuseWith(asRefusal(again), request)
        : showAgain(app, 'code', again.status, visitor, clock);
    return { state: after, response, explanation: explain(visitor.account, reason, at) };
  };
  if (rules === null || record?.code === undefined || record.code === null) {
    // Whoever is signed in is sent a code at its page.
    return visitor.account === null || rules === null
      ? refused(state, page, visitor.reason, ['second-factor'])
      : refused(state, rules.page, 'code-needed', ['second-factor']);
  }
  const { code } = record;
  if (clock.elapsed(code.sentAt, rules.life)) {
    const late = [...rules.at, 'life'];
    // Who is signed in and owes a code to a page gets another at the same place.
    if (!record.half) return refused(sendCode(state, visitor, clock), rules.page, 'code-expired', late);
    return refused(withoutCode(app, state, visitor.session, record), page, 'code-expired', late);
  }
  const account = state.accounts.get(record.account ?? '');
  if (account === undefined) return refused(state, page, 'account-gone', rules.at);
  if (!account.secondFactor || request.form.get('code') !== RIGHT_CODE) {
    const wrong = code.wrong + 1;
    if (wrong >= rules.tries) {
      return refused(withoutCode(app, state, visitor.session, record), page, 'code-wrong', [
        ...rules.at,
        'tries',
      ]);
    }
    const counted = changeSession(state, visitor.session, { code: { ...code, wrong } });
    return refused(counted, rules.page, 'code-wrong', rules.submit.at);
  }
  if (login === null) throw new Error('a one-time code without a login');
  const entrant = {
    by: login,
    account,
    asRole: record.asRole,
    secondFactor: true,
    asked: askedFor(login, request),
    lands: null,
    remember: code.remember,
  };
  return letIn(app, state, request, entrant, clock);
}

/** What is left once a code is of no use any more: of a half session nothing. */
function withoutCode(app: App, state: AppState, session: number, record: SessionRecord): AppState {
  return record.half
    ? endSession(app, changeSession(state, session, { code: null }), session, 'signed-out')
    : changeSession(state, session, { code: null });
}

/** The page of a form, with the address that was asked for before, so that it is not lost however often a form is sent. */
function withAsked(login: Login | null, asked: string | null, page: string): string {
  return asked === null ? page : withParameter(page, login?.return?.param ?? '', asked);
}

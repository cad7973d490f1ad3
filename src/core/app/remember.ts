import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import { endOthers, isTaken } from './at-once.js';
import { changed, handle, indexOf, NO_LOGIN, type App, type AppState, type Remembered } from './app.js';
import { shownIn, handedOutIn } from './own-cookies.js';
import type { Reason } from './reasons.js';
import { withEnded, withFlags } from './remembered.js';
import { endSession, startSession } from './sessions.js';

/** A visitor who may have come back: the session that was started for them, -1 for none, and the cookies for it. */
export interface Resumed {
  readonly state: AppState;
  readonly session: number;
  readonly setCookie: readonly string[];
}

/** Remembers an account in this browser from now on, as part of a login. */
export function remember(
  app: App,
  state: AppState,
  account: string,
  login: number,
  clock: Clock,
): { readonly state: AppState; readonly setCookie: readonly string[] } {
  return issue(app, state, { account, login, issuedAt: clock.now, used: false, ended: false });
}

function issue(app: App, state: AppState, record: Remembered) {
  const remembered = [...state.remembered, record];
  return { state: changed(state, { remembered }), setCookie: rememberCookie(app, remembered.length - 1) };
}

/**
 * Signs a visitor in by the remember cookie, where it counts. A token that rotates is changed for another at each use;
 * one that comes a second time means that two hold it, so its whole series ends.
 *
 * @param isOpen whether guests may have what is asked for: nobody is asked for a code there
 * @param guest the index of the session that they have as a guest; -1 for none
 */
export function resume(
  app: App,
  state: AppState,
  request: HttpRequest,
  isOpen: boolean,
  guest: number,
  clock: Clock,
): Resumed {
  const nobody = (after = state): Resumed => ({ state: after, session: -1, setCookie: [] });
  const rules = app.policy.remember;
  const shown = rules === null || request.cookie === '' ? null : shownIn(request.cookie, rules.cookie);
  const index = shown === null ? -1 : indexOf('remember', shown);
  const record = state.remembered[index];
  if (rules === null || record === undefined || record.ended) return nobody();
  if (clock.elapsed(record.issuedAt, rules.life)) return nobody();
  if (record.used) return nobody(rules.reuse === 'refuse' ? state : endSeries(state, record.login));
  const account = state.accounts.get(record.account);
  if (account?.state !== 'active') return nobody();
  const { countsAs } = rules;
  const hasCode = account.secondFactor && countsAs.code === 'given';
  // Somebody whose login asks for a code is asked for it again.
  const half = account.secondFactor && !hasCode && app.policy.secondFactor?.asked === 'at-login';
  if (half && isOpen) return nobody();
  const start = {
    account: account.name,
    login: half ? NO_LOGIN : record.login,
    family: half ? null : familyOf(state, record.login),
    roles: account.roles,
    asRole: null,
    secondFactor: hasCode,
    resumed: true,
    half,
    code: half ? { sentAt: clock.now, wrong: 0, remember: false, by: 0 } : null,
  };
  const renews = app.policy.login?.renewSessionId !== false;
  if (isTaken(app, state, account.name, guest, clock)) return nobody();
  const left = renews ? endSession(app, state, guest, 'signed-out') : state;
  const alone = half ? left : endOthers(app, left, account.name, record.login);
  const started = startSession(app, alone, start, renews ? -1 : guest, clock);
  const { session } = started;
  if (!rules.rotates) return started;
  const { account: name, login } = record;
  const used = started.state.remembered.with(index, withFlags(record, true, false));
  const next = { account: name, login, issuedAt: clock.now, used: false, ended: false };
  const issued = issue(app, changed(started.state, { remembered: used }), next);
  return { state: issued.state, session, setCookie: [...started.setCookie, ...issued.setCookie] };
}

/** The tokens of a login that still count; null for none. */
function familyOf({ families }: AppState, login: number): number | null {
  const family = families.findLastIndex((each) => each.login === login && each.ended === null);
  return family < 0 ? null : family;
}

function endSeries(state: AppState, login: number): AppState {
  const remembered = state.remembered.map((each) => (each.login === login ? withEnded(each) : each));
  return changed(state, { remembered });
}

/** Why a remember token does not count; null while it does. */
export function rememberFault(app: App, state: AppState, index: number, clock: Clock): Reason | null {
  const rules = app.policy.remember;
  const record = state.remembered[index];
  if (rules === null || record === undefined) return 'session-lost';
  if (record.ended || record.used) return 'signed-out';
  return clock.elapsed(record.issuedAt, rules.life) ? 'session-lost' : null;
}

function rememberCookie({ policy: { remember: rules } }: App, index: number): string[] {
  if (rules === null) throw new Error('a remember cookie without rules for it');
  return handedOutIn(rules.cookie, handle('remember', index), rules.life);
}

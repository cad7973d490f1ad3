import { cookieValue } from '../http/cookies.js';
import type { HttpRequest } from '../http/messages.js';
import { redirect, type Answer } from './answer.js';
import { indexOf, type App, type AppState } from './app.js';
import { clearedCookie, endSession } from './sessions.js';
import { endFamily } from './tokens.js';

/** The logout endpoint. Somebody who is signed out already is answered alike. */
export function logout(app: App, state: AppState, request: HttpRequest): Answer {
  const rules = app.policy.logout;
  if (rules === null) throw new Error('a logout endpoint without logout rules');
  const cookie = cookieValue(request.cookie, app.policy.session.cookie.name);
  const session = cookie === null ? -1 : indexOf('session', cookie);
  const record = state.sessions[session];
  const token = state.refreshTokens[indexOf('refresh', request.form.get('refresh_token') ?? '')];
  const family = token?.family ?? record?.family ?? -1;

  let after = state;
  if (rules.ends.has('session')) after = endSession(after, session, 'signed-out');
  if (rules.ends.has('refresh') || rules.ends.has('access')) after = endFamily(after, family, 'signed-out');
  const setCookie = cookie !== null && rules.clears.has('session') ? [clearedCookie(app)] : [];
  return {
    state: after,
    response: redirect(request.method, rules.lands, setCookie),
    explanation: { seenAs: null, reason: 'served', decidedBy: rules.at },
  };
}

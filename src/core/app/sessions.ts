import type { Clock } from '../clock.js';
import { writeSetCookie } from '../http/cookies.js';
import { handle, type App, type AppState, type SessionRecord } from './app.js';
import type { Reason } from './reasons.js';

/** A state with a new session in it, and the Set-Cookie header that hands it out. */
export function startSession(
  app: App,
  state: AppState,
  account: string,
  family: number | null,
  clock: Clock,
): { readonly state: AppState; readonly setCookie: string } {
  const record: SessionRecord = { account, startedAt: clock.now, activeAt: clock.now, ended: null, family };
  const sessions = [...state.sessions, record];
  return { state: { ...state, sessions }, setCookie: sessionCookie(app, sessions.length - 1) };
}

/**
 * Counts a request as activity, as `session.renews` says. The cookie is handed out again only where it has a life of its
 * own, which counts anew then.
 */
export function renewSession(
  app: App,
  state: AppState,
  session: number,
  clock: Clock,
): { readonly state: AppState; readonly setCookie: string | null } {
  const { renews, idle, cookie } = app.policy.session;
  const record = state.sessions[session];
  if (record === undefined || !isDue(record, renews, idle, clock)) return { state, setCookie: null };
  const sessions = state.sessions.with(session, { ...record, activeAt: clock.now });
  return {
    state: { ...state, sessions },
    setCookie: cookie.life === null ? null : sessionCookie(app, session),
  };
}

function isDue(record: SessionRecord, renews: string, idle: number | null, clock: Clock): boolean {
  if (renews === 'never') return false;
  // Without at least one tick since the last activity there is nothing to write down.
  if (renews === 'each-request' || idle === null) return clock.elapsed(record.activeAt, 1);
  return clock.elapsed(record.activeAt, Math.ceil(idle / 2));
}

/** Stops honouring a session. */
export function endSession(state: AppState, session: number, reason: Reason): AppState {
  const record = state.sessions[session];
  if (record === undefined || record.ended !== null) return state;
  return { ...state, sessions: state.sessions.with(session, { ...record, ended: reason }) };
}

function sessionCookie(app: App, session: number): string {
  const { name, secure, httpOnly, sameSite, life } = app.policy.session.cookie;
  return writeSetCookie({
    name,
    value: handle('session', session),
    path: '/',
    secure,
    httpOnly,
    sameSite,
    maxAge: life,
  });
}

/** The Set-Cookie header that makes a browser drop its session cookie. */
export function clearedCookie(app: App): string {
  const { name, secure, httpOnly, sameSite } = app.policy.session.cookie;
  return writeSetCookie({ name, value: '', path: '/', secure, httpOnly, sameSite, maxAge: 0 });
}

import type { Clock } from '../clock.js';
import { writeSetCookie } from '../http/cookies.js';
import type { SessionRules } from '../language/policy.js';
import { changed, changedRecord, handle, type App, type AppState, type SessionRecord } from './app.js';
import type { Reason } from './reasons.js';

/** What a login knows of the session that it starts. */
export type SessionStart = Pick<
  SessionRecord,
  'account' | 'family' | 'roles' | 'asRole' | 'secondFactor' | 'fresh' | 'half' | 'code'
>;

/** A state with a new session in it, and the Set-Cookie header that hands it out. */
export interface Started {
  readonly state: AppState;
  readonly setCookie: string;
}

/**
 * Starts a session.
 *
 * @param under the index of a session whose id goes on being used; -1 for a new id
 */
export function startSession(
  app: App,
  state: AppState,
  start: SessionStart,
  under: number,
  clock: Clock,
): Started {
  const record: SessionRecord = {
    account: start.account,
    startedAt: clock.now,
    activeAt: clock.now,
    ended: null,
    family: start.family,
    roles: start.roles,
    asRole: start.asRole,
    secondFactor: start.secondFactor,
    fresh: start.fresh,
    half: start.half,
    code: start.code,
  };
  if (state.sessions[under] !== undefined) {
    return {
      state: changed(state, { sessions: state.sessions.with(under, record) }),
      setCookie: sessionCookie(app, under),
    };
  }
  const sessions = [...state.sessions, record];
  return { state: changed(state, { sessions }), setCookie: sessionCookie(app, sessions.length - 1) };
}

/**
 * Counts a request as activity, as `session.renews` says. The cookie is handed out again only where something in it
 * changed: its life, which counts anew then, or all that is sealed in it.
 */
export function renewSession(
  app: App,
  state: AppState,
  session: number,
  clock: Clock,
): { readonly state: AppState; readonly setCookie: string | null } {
  const rules = app.policy.session;
  const record = state.sessions[session];
  if (record === undefined || !isDue(record, rules, clock)) return { state, setCookie: null };
  const renewed = changedRecord(record, { activeAt: clock.now });
  // A sealed cookie cannot be changed where it lies: the old one stays as good as it was.
  if (rules.kept === 'sealed') {
    const sessions = [...state.sessions, renewed];
    return { state: changed(state, { sessions }), setCookie: sessionCookie(app, sessions.length - 1) };
  }
  const sessions = state.sessions.with(session, renewed);
  const setCookie = rules.cookie.life === null ? null : sessionCookie(app, session);
  return { state: changed(state, { sessions }), setCookie };
}

function isDue(record: SessionRecord, { renews, idle }: SessionRules, clock: Clock): boolean {
  if (renews === 'never') return false;
  // Without at least one tick since the last activity there is nothing to write down.
  if (renews === 'each-request' || idle === null) return clock.elapsed(record.activeAt, 1);
  return clock.elapsed(record.activeAt, Math.ceil(idle / 2));
}

/** Stops honouring a session. One that is sealed in a cookie is beyond the app's reach. */
export function endSession(app: App, state: AppState, session: number, reason: Reason): AppState {
  const record = state.sessions[session];
  if (record === undefined || record.ended !== null || app.policy.session.kept === 'sealed') return state;
  return changed(state, { sessions: state.sessions.with(session, changedRecord(record, { ended: reason })) });
}

/** Puts something else into a session's record, where it is kept. */
export function changeSession(
  state: AppState,
  session: number,
  change: Pick<SessionRecord, 'code'>,
): AppState {
  const record = state.sessions[session];
  if (record === undefined) return state;
  return changed(state, { sessions: state.sessions.with(session, changedRecord(record, change)) });
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

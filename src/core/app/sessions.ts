import { rolesIn } from './identify.js';
import { lifeBy } from '../language/session-lives.js';
import type { Clock } from '../time/clock.js';
import {
  changed,
  changedRecord,
  handle,
  NO_LOGIN,
  type App,
  type AppState,
  type SessionRecord,
} from './app.js';
import { handedOutIn } from './own-cookies.js';
import type { Reason } from './reasons.js';

/** What a login knows of the session that it starts. */
export type SessionStart = Pick<
  SessionRecord,
  'account' | 'login' | 'family' | 'roles' | 'asRole' | 'secondFactor' | 'resumed' | 'half' | 'code'
> & { readonly asked?: string | null };

/** A state with a new session in it, and the Set-Cookie headers that hand it out. */
export interface Started {
  readonly state: AppState;
  readonly session: number;
  readonly setCookie: readonly string[];
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
  const { sessions: known } = app.policy.session.kept === 'sealed' ? NOTHING_KEPT : state;
  const before = known[under];
  const hasToken = app.policy.csrf !== null && app.policy.csrf.token !== 'absent';
  const record: SessionRecord = {
    account: start.account,
    login: start.login,
    startedAt: clock.now,
    activeAt: clock.now,
    ended: null,
    family: start.family,
    roles: start.roles,
    asRole: start.asRole,
    secondFactor: start.secondFactor,
    resumed: start.resumed,
    half: start.half,
    code: start.code,
    asked: start.asked ?? null,
    acting: null,
    secret: hasToken ? (before?.secret ?? state.sessions.length) : null,
    tokens: before?.tokens ?? 0,
  };
  const session = before === undefined ? state.sessions.length : under;
  const sessions = before === undefined ? [...state.sessions, record] : state.sessions.with(under, record);
  return { state: changed(state, { sessions }), session, setCookie: sessionCookie(app, session) };
}

/** What is sealed in a cookie cannot be changed where it lies. */
const NOTHING_KEPT: Pick<AppState, 'sessions'> = { sessions: [] };

const NO_ROLES: ReadonlySet<string> = new Set();
const GUESTS: SessionStart = {
  account: null,
  login: NO_LOGIN,
  family: null,
  roles: NO_ROLES,
  asRole: null,
  secondFactor: false,
  resumed: false,
  half: false,
  code: null,
};

/** Starts the session of a guest. */
export function startGuestSession(
  app: App,
  state: AppState,
  clock: Clock,
  asked: string | null = null,
): Started {
  return startSession(app, state, { ...GUESTS, asked }, -1, clock);
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
): Pick<Started, 'state' | 'setCookie'> {
  const rules = app.policy.session;
  const record = state.sessions[session];
  if (record === undefined || !isDue(app, state, record, clock)) return { state, setCookie: NO_COOKIES };
  const renewed = changedRecord(record, { activeAt: clock.now });
  // A sealed cookie cannot be changed where it lies: the old one stays as good as it was.
  if (rules.kept === 'sealed') {
    const sessions = [...state.sessions, renewed];
    return { state: changed(state, { sessions }), setCookie: sessionCookie(app, sessions.length - 1) };
  }
  const sessions = state.sessions.with(session, renewed);
  const { life, renewed: renewsCookie } = rules.cookie;
  const setCookie = life === null || !renewsCookie ? NO_COOKIES : sessionCookie(app, session);
  return { state: changed(state, { sessions }), setCookie };
}

const NO_COOKIES: readonly string[] = [];

function isDue(app: App, state: AppState, record: SessionRecord, clock: Clock): boolean {
  const { renews } = app.policy.session;
  if (renews === 'never') return false;
  // Without at least one tick since the last activity there is nothing to write down.
  if (renews === 'each-request') return clock.elapsed(record.activeAt, 1);
  const idle = lifeBy('idle', app.policy, rolesIn(app, state, record));
  if (idle === null) return clock.elapsed(record.activeAt, 1);
  return clock.elapsed(record.activeAt, Math.ceil(idle / 2));
}

/** Stops honouring a session. One that is sealed in a cookie is beyond the app's reach. */
export function endSession(
  { policy }: Pick<App, 'policy'>,
  state: AppState,
  session: number,
  reason: Reason,
): AppState {
  const record = state.sessions[session];
  if (record === undefined || record.ended !== null || policy.session.kept === 'sealed') return state;
  return changed(state, { sessions: state.sessions.with(session, changedRecord(record, { ended: reason })) });
}

/**
 * A session under another id, as old as it was and with something changed; the old id is worth nothing from now on.
 *
 * @param reason why the old one is over
 */
export function renewId(
  app: App,
  before: AppState,
  session: number,
  change: Partial<Pick<SessionRecord, 'login' | 'family' | 'acting'>>,
  reason: Reason,
): Started {
  const record = before.sessions[session];
  if (record === undefined) return { state: before, session, setCookie: NO_COOKIES };
  const { sessions } = endSession(app, before, session, reason);
  const state = changed(before, { sessions: [...sessions, { ...record, ...change }] });
  return { state, session: sessions.length, setCookie: sessionCookie(app, sessions.length) };
}

/** Puts something else into a session's record, where it is kept. */
export function changeSession(
  state: AppState,
  session: number,
  change: Partial<Pick<SessionRecord, 'code' | 'asked' | 'tokens'>>,
): AppState {
  const record = state.sessions[session];
  if (record === undefined) return state;
  return changed(state, { sessions: state.sessions.with(session, changedRecord(record, change)) });
}

function sessionCookie({ policy: { session } }: App, index: number): readonly string[] {
  return handedOutIn(session.cookie, handle('session', index), session.cookie.life);
}

import type { Clock } from '../time/clock.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { App, AppState } from './app.js';
import { sessionFault } from './identify.js';
import { endHandedOut } from './login-ends.js';

/**
 * Whether nobody is let in to an account, since somebody is in: whichever way they come.
 *
 * @param own the session whose place is taken; -1 for none
 */
export function isTaken(app: App, state: AppState, account: string, own: number, clock: Clock): boolean {
  if (app.policy.session['at-once'] !== 'first-wins') return false;
  return state.sessions.some(
    (record, index) =>
      record.account === account &&
      index !== own &&
      !record.half &&
      sessionFault(app, state, record, clock) === null,
  );
}

/**
 * The latest session of an account is its only one: the others end, and so does all that other logins handed out, by which
 * somebody would come in again.
 *
 * @param login the one that goes on
 */
export function endOthers(app: App, state: AppState, account: string, login: number): AppState {
  if (app.policy.session['at-once'] !== 'latest-wins') return state;
  const sessions = endHandedOut(app, state, SESSIONS, 'signed-out', (each) => each.account === account);
  return endHandedOut(
    app,
    sessions,
    KNOWN_AGAIN,
    'signed-out',
    (each) => each.account === account && each.login !== login,
  );
}

const SESSIONS: ReadonlySet<Credential> = new Set(['session']);
const KNOWN_AGAIN: ReadonlySet<Credential> = new Set(['refresh', 'remember']);

import { formatDuration } from '../time/duration.js';
import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** Activity keeps a session with an idle limit alive. */
export const idleNeverRenewed = check<{ idle: number }>({
  meta: {
    code: 'idle-never-renewed',
    severity: 'warning',
    title: 'Activity keeps a session with an idle limit alive.',
    why: 'With renews: never the idle limit counts from the login: people are thrown out in the middle of their work.',
    cwe: null,
    mend: 'Set session.renews to each-request or past-half, or write the limit as absolute.',
  },
  *find(facts) {
    const { session, login } = facts.policy;
    if (login === null || !handedOut(facts.policy).includes('session')) return;
    if (session.idle === null || session.renews !== 'never') return;
    yield { at: ['session', 'renews'], params: { idle: session.idle } };
  },
  message: ({ idle }) =>
    `nothing renews a session: it is over ${formatDuration(idle)} after the login, however busy its owner is`,
});

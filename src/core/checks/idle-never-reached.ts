import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** The idle limit is below the absolute one. */
export const idleNeverReached = check<{ idle: number; absolute: number }>({
  meta: {
    code: 'idle-never-reached',
    severity: 'warning',
    title: 'The idle limit is below the absolute one.',
    why: 'A session that ends anyway before it can have been idle for so long makes the idle limit a dead letter.',
    cwe: null,
    mend: 'Choose an idle limit below session.absolute, or leave it out.',
  },
  *find(facts) {
    const { session } = facts.policy;
    for (const { at, idle: own, absolute: most } of [session, ...session['by-role']]) {
      const [idle, absolute] = [own ?? session.idle, most ?? session.absolute];
      if (idle === null || absolute === null || idle < absolute) continue;
      yield { at: [...at, own === null ? 'absolute' : 'idle'], params: { idle, absolute } };
    }
  },
  message: ({ idle, absolute }) =>
    `no session is ever idle for ${formatDuration(idle)}: each ends after ${formatDuration(absolute)}`,
});

import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** A changed refresh token gets its answer again for seconds only. */
export const graceTooLong = check<{ grace: string }>({
  meta: {
    code: 'grace-too-long',
    severity: 'warning',
    title: 'A changed refresh token gets its answer again for seconds only.',
    why: 'Within the grace a stolen token is answered like the honest one. Requests that cross on the way need seconds, not minutes.',
    cwe: 'CWE-294',
    mend: 'Set tokens.refresh.grace to at most a minute.',
  },
  *find(facts) {
    const grace = facts.policy.tokens?.refresh?.grace ?? 0;
    if (grace > 60) yield { at: ['tokens', 'refresh', 'grace'], params: { grace: formatDuration(grace) } };
  },
  message: ({ grace }) => `a refresh token that was changed for another is still answered for ${grace}`,
});

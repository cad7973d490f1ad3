import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** An hour: the longest life that is usual, in seconds. */
const LONGEST = 3_600;

/** An access token lives for minutes. */
export const accessLifeLong = check<{ life: number }>({
  meta: {
    code: 'access-life-long',
    severity: 'warning',
    title: 'An access token lives for minutes.',
    why: 'An app trusts an access token without looking anything up: a logout, a suspension or a change of roles counts only when it has run out.',
    cwe: 'CWE-613',
    mend: 'Choose an access life of minutes and let the refresh token carry the rest.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    if (tokens === null || tokens.access.life <= LONGEST) return;
    yield { at: ['tokens', 'access', 'life'], params: { life: tokens.access.life } };
  },
  message: ({ life }) =>
    `an access token is good for ${formatDuration(life)} whatever happens to its account`,
});

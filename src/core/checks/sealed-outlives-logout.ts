import { longestBy } from '../language/session-lives.js';
import { formatDuration } from '../time/duration.js';
import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A logout can end a session. */
export const sealedOutlivesLogout = check<{ limit: string }>({
  meta: {
    code: 'sealed-outlives-logout',
    severity: 'warning',
    title: 'A logout can end a session.',
    why: 'A session that lies sealed in the cookie cannot be called back: a copy of the cookie stays good after the logout, and after the account is suspended only as far as the app asks again.',
    cwe: 'CWE-613',
    mend: 'Keep sessions in a store, or keep the limits of a sealed one short.',
  },
  *find(facts) {
    const { login, logout, session } = facts.policy;
    if (login === null || logout === null || session.kept !== 'sealed') return;
    if (!handedOut(facts.policy).includes('session')) return;
    const absolute = longestBy('absolute', facts.policy);
    // Whoever has a copy renews it as the owner would.
    const idle = session.renews === 'never' ? longestBy('idle', facts.policy) : null;
    const longest = Math.min(absolute ?? Infinity, idle ?? Infinity);
    const limit = longest === Infinity ? 'for ever' : `for up to ${formatDuration(longest)}`;
    yield { at: ['session', 'kept'], params: { limit } };
  },
  message: ({ limit }) => `a copy of the sealed cookie stays good after the logout, ${limit}`,
});

import { longestBy } from '../language/session-lives.js';
import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** What a login hands out ends, however busy its holder is. */
export const loginWithoutEnd = check<{ what: string }>({
  meta: {
    code: 'login-without-end',
    severity: 'advice',
    title: 'What a login hands out ends, however busy its holder is.',
    why: 'Whoever has a copy keeps it alive by using it, for as long as the app runs.',
    cwe: 'CWE-613',
    mend: 'Set session.absolute, and tokens.refresh.longest.',
  },
  *find(facts) {
    const { session, login, tokens } = facts.policy;
    if (login === null) return;
    const handed = handedOut(facts.policy);
    if (
      handed.includes('session') &&
      longestBy('idle', facts.policy) !== null &&
      longestBy('absolute', facts.policy) === null &&
      session.renews !== 'never'
    ) {
      yield { at: ['session', 'idle'], params: { what: 'a session with an idle limit and no absolute one' } };
    }
    const refresh = tokens?.refresh ?? null;
    if (handed.includes('refresh') && refresh !== null && refresh.rotates && refresh.longest === null) {
      yield {
        at: ['tokens', 'refresh'],
        params: { what: 'a refresh token that rotates and has no longest' },
      };
    }
  },
  message: ({ what }) => `${what} never ends while somebody uses it`,
});

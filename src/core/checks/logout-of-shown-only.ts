import { handedOut, recordWords, type Credential } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A login gives several things, one of which can have brought more elsewhere: whoever logs out means all of them. */
export const logoutOfShownOnly = check<{ handed: readonly Credential[] }>({
  meta: {
    code: 'logout-of-shown-only',
    severity: 'warning',
    title: 'A logout ends all that came of the same login.',
    why: 'What was got elsewhere before for a cookie or token of the login, by another tab or by whoever has a copy, goes on after the logout.',
    cwe: 'CWE-613',
    mend: 'Set logout.of: login, or account.',
  },
  *find({ policy }) {
    const handed = handedOut(policy).filter((each) => each !== 'access');
    if (policy.logout?.of === 'shown' && handed.length > 1) {
      yield { at: ['logout', 'of'], params: { handed } };
    }
  },
  message: ({ handed }) =>
    `a logout ends no more than what the browser shows, though a login brings the ${handed.map((each) => recordWords(each)).join(' and the ')}`,
});

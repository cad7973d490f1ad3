import { handedOut, recordWords, type Credential } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** What a login handed out must be worth nothing after the logout, not only be gone from the browser. */
export const logoutEndsTooLittle = check<{ left: readonly Credential[]; cleared: boolean }>({
  meta: {
    code: 'logout-ends-too-little',
    severity: 'error',
    title: 'A logout ends what the login handed out.',
    why: 'Clearing the browser helps only against its next user. A copy of the cookie or token stays good.',
    cwe: 'CWE-613',
    mend: 'Add what is left to logout.ends.',
  },
  *find(facts) {
    const { login, logout, tokens } = facts.policy;
    if (login === null || logout === null) return;
    const handed = handedOut(facts.policy);
    const outlast = handed.filter((each) => each !== 'access' && (each !== 'refresh' || tokens?.refresh));
    const left = outlast.filter((credential) => !logout.ends.has(credential));
    const cleared = left.every((credential) => logout.clears.has(credential));
    if (left.length > 0) yield { at: ['logout', 'ends'], params: { left, cleared } };
  },
  message: ({ left, cleared }) =>
    `a logout ${cleared ? 'clears the browser but ' : ''}leaves the ${left.map((each) => recordWords(each)).join(' and the ')} good in the app`,
});

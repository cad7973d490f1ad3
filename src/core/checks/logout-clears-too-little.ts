import { credentialWords, handedOut, type Credential } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A logout clears what the browser holds. */
export const logoutClearsTooLittle = check<{ left: readonly Credential[] }>({
  meta: {
    code: 'logout-clears-too-little',
    severity: 'warning',
    title: 'A logout clears what the browser holds.',
    why: 'What stays in the browser after a logout is there for its next user, and is sent along with their requests.',
    cwe: 'CWE-613',
    mend: 'Add what is left to logout.clears.',
  },
  *find(facts) {
    const { login, logout } = facts.policy;
    if (login === null || logout === null) return;
    const handed = handedOut(facts.policy);
    const left = handed.filter((credential) => !logout.clears.has(credential));
    if (left.length > 0) yield { at: ['logout', 'clears'], params: { left } };
  },
  message: ({ left }) =>
    `a logout leaves the ${left.map((each) => credentialWords(each)).join(' and the ')} in the browser`,
});

import { handedOut } from '../language/login-reader.js';
import type { Credential } from '../language/policy.js';
import { CREDENTIAL_NAMES } from '../laws/counts.js';
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
    const { login, logout, remember } = facts.policy;
    if (login === null || logout === null) return;
    const handed = [...handedOut(login.by), ...(remember === null ? [] : ['remember' as const])];
    const left = handed.filter((credential) => !logout.clears.has(credential));
    if (left.length > 0) yield { at: ['logout', 'clears'], params: { left } };
  },
  message: ({ left }) =>
    `a logout leaves the ${left.map((each) => CREDENTIAL_NAMES[each]).join(' and the ')} in the browser`,
});

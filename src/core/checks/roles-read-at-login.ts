import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A role that is taken away is gone at once. */
export const rolesReadAtLogin = check<null>({
  meta: {
    code: 'roles-read-at-login',
    severity: 'warning',
    title: 'A role that is taken away is gone at once.',
    why: 'Roles that are read only at the login stay in force until the session ends, whatever the account holds by then.',
    cwe: 'CWE-613',
    mend: 'Set session.roles to each-request, or leave it out.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || session.roles !== 'at-login' || !handedOut(facts.policy).includes('session')) {
      return;
    }
    yield { at: ['session', 'roles'], params: null };
  },
  message: () => 'a role taken from somebody who is signed in stays theirs until they log in again',
});

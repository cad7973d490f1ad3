import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A login gives a new session id. */
export const sessionIdKept = check<null>({
  meta: {
    code: 'session-id-kept',
    severity: 'error',
    title: 'A login gives a new session id.',
    why: 'Whoever planted the id in the browser before the login is signed in with it afterwards.',
    cwe: 'CWE-384',
    mend: 'Set login.renew-session-id to true, or leave it out.',
  },
  *find(facts) {
    if (!handedOut(facts.policy).includes('session')) return;
    for (const { at, renewSessionId } of facts.policy.logins) {
      if (!renewSessionId) yield { at: [...at, 'renew-session-id'], params: null };
    }
  },
  message: () => 'a session id from before the login stays good after it',
});

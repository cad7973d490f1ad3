import { handedOut } from '../language/login-reader.js';
import { check } from './check.js';

/** Script cannot read the session cookie. */
export const cookieReadableByScript = check<{ name: string }>({
  meta: {
    code: 'cookie-readable-by-script',
    severity: 'warning',
    title: 'Script cannot read the session cookie.',
    why: 'Any script that gets into a page can carry the session off, and needs nothing else.',
    cwe: 'CWE-1004',
    mend: 'Set http-only: true, which is what is taken when it is left out.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || !handedOut(login.by).includes('session')) return;
    if (!session.cookie.httpOnly) {
      yield { at: ['session', 'cookie', 'http-only'], params: { name: session.cookie.name } };
    }
  },
  message: ({ name }) => `script in any page can read the session cookie ${name}`,
});

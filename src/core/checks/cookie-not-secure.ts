import { handedOut } from '../language/login-reader.js';
import { check } from './check.js';

/** The session cookie is sent over https only. */
export const cookieNotSecure = check<{ name: string }>({
  meta: {
    code: 'cookie-not-secure',
    severity: 'warning',
    title: 'The session cookie is sent over https only.',
    why: 'One request over plain http, an old link or a typed address, shows the session to everybody on the way.',
    cwe: 'CWE-614',
    mend: 'Set secure: true, which is what is taken when it is left out.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || !handedOut(login.by).includes('session')) return;
    if (!session.cookie.secure) {
      yield { at: ['session', 'cookie', 'secure'], params: { name: session.cookie.name } };
    }
  },
  message: ({ name }) => `the session cookie ${name} is sent over plain http too`,
});

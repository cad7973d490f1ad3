import { handedOut } from '../language/login-reader.js';
import { check } from './check.js';

/** The session cookie does not go along with requests that other sites make. */
export const cookieSentAcrossSites = check<{ name: string }>({
  meta: {
    code: 'cookie-sent-across-sites',
    severity: 'warning',
    title: 'The session cookie does not go along with requests that other sites make.',
    why: 'With same-site: none a form on any other site is sent as the visitor (cross-site request forgery).',
    cwe: 'CWE-1275',
    mend: 'Use same-site: lax, or strict where no link from outside must arrive signed in.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || !handedOut(login.by).includes('session')) return;
    if (session.cookie.sameSite === 'none') {
      yield { at: ['session', 'cookie', 'same-site'], params: { name: session.cookie.name } };
    }
  },
  message: ({ name }) => `other sites can make requests that carry the session cookie ${name}`,
});

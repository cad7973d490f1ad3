import { isTrustworthy } from '../browser/cookie-jar.js';
import { check } from './check.js';

/** The app is served over https. */
export const originInPlainHttp = check<{ origin: string }>({
  meta: {
    code: 'origin-in-plain-http',
    severity: 'warning',
    title: 'The app is served over https.',
    why: 'Passwords, cookies and tokens can be read and changed by everybody on the way.',
    cwe: 'CWE-319',
    mend: 'Serve the app over https and write its origin so.',
  },
  *find(facts) {
    const { origin, login } = facts.policy;
    if (login !== null && !isTrustworthy(origin)) yield { at: ['origin'], params: { origin } };
  },
  message: ({ origin }) => `people log in over plain http at ${origin}`,
});

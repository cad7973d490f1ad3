import { check } from './check.js';

/** The session cookie does not go along with requests that other sites make. */
export const cookieSentAcrossSites = check<{ what: string; name: string }>({
  meta: {
    code: 'cookie-sent-across-sites',
    severity: 'warning',
    title: 'The session cookie does not go along with requests that other sites make.',
    why: 'With same-site: none a form on any other site is sent as the visitor (cross-site request forgery).',
    cwe: 'CWE-1275',
    mend: 'Use same-site: lax, or strict where no link from outside must arrive signed in.',
  },
  *find(facts) {
    for (const { what, at, rules } of facts.cookies) {
      if (rules.sameSite === 'none') yield { at: [...at, 'same-site'], params: { what, name: rules.name } };
    }
  },
  message: ({ what, name }) => `other sites can make requests that carry the ${what} cookie ${name}`,
});

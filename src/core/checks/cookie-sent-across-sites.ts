import { check } from './check.js';

/** The session cookie does not go along with requests that other sites make. */
export const cookieSentAcrossSites = check<{ what: string; name: string; isSpared: boolean }>({
  meta: {
    code: 'cookie-sent-across-sites',
    severity: 'warning',
    title: 'The session cookie does not go along with requests that other sites make.',
    why: 'With same-site: none a form on any other site is sent as the visitor (cross-site request forgery); with none said, for the first two minutes of the cookie.',
    cwe: 'CWE-1275',
    mend: 'Use same-site: lax, or strict where no link from outside must arrive signed in; or tell forms of other sites by csrf.',
  },
  *find(facts) {
    const { csrf } = facts.policy;
    // Where forms of other sites are told from the app's own, they may come with cookies.
    if (csrf !== null && (csrf.token !== 'absent' || csrf.checksOrigin)) return;
    for (const { what, at, rules } of facts.cookies) {
      if (rules.sameSite !== 'none' && rules.sameSite !== 'unset') continue;
      const isSpared = rules.sameSite === 'unset';
      yield { at: [...at, 'same-site'], params: { what, name: rules.name, isSpared } };
    }
  },
  message: ({ what, name, isSpared }) =>
    `other sites can make requests that carry the ${what} cookie ${name}${isSpared ? ' while it is younger than two minutes' : ''}`,
});

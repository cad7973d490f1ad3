import { check } from './check.js';

/** Script cannot read the session cookie. */
export const cookieReadableByScript = check<{ what: string; name: string }>({
  meta: {
    code: 'cookie-readable-by-script',
    severity: 'warning',
    title: 'Script cannot read the session cookie.',
    why: 'Any script that gets into a page can carry the session off, and needs nothing else.',
    cwe: 'CWE-1004',
    mend: 'Set http-only: true, which is what is taken when it is left out.',
  },
  *find(facts) {
    for (const { what, at, rules } of facts.cookies) {
      if (!rules.httpOnly) yield { at: [...at, 'http-only'], params: { what, name: rules.name } };
    }
  },
  message: ({ what, name }) => `script in any page can read the ${what} cookie ${name}`,
});

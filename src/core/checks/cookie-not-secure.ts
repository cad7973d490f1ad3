import { check } from './check.js';

/** The session cookie is sent over https only. */
export const cookieNotSecure = check<{ what: string; name: string }>({
  meta: {
    code: 'cookie-not-secure',
    severity: 'warning',
    title: 'The session cookie is sent over https only.',
    why: 'One request over plain http, an old link or a typed address, shows the session to everybody on the way.',
    cwe: 'CWE-614',
    mend: 'Set secure: true, which is what is taken when it is left out.',
  },
  *find(facts) {
    for (const { what, at, rules } of facts.cookies) {
      if (!rules.secure) yield { at: [...at, 'secure'], params: { what, name: rules.name } };
    }
  },
  message: ({ what, name }) => `the ${what} cookie ${name} is sent over plain http too`,
});

import { check } from './check.js';

/** Whoever changes a password shows that they know it. */
export const passwordChangeWithoutOld = check<null>({
  meta: {
    code: 'password-change-without-old',
    severity: 'error',
    title: 'Whoever changes a password gives the old one.',
    why: 'Somebody at a browser that was left open, or with a stolen cookie, takes the whole account and locks its owner out.',
    cwe: 'CWE-620',
    mend: 'Set password.change.asks-old to true, or leave it out.',
  },
  *find({ policy: { password } }) {
    const change = password?.change ?? null;
    if (change !== null && !change.asksOld) yield { at: [...change.at, 'asks-old'], params: null };
  },
  message: () => 'a password can be changed without the old one',
});

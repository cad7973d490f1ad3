import { check } from './check.js';

/** A remember token is changed for another at each use. */
export const rememberWithoutRotation = check<null>({
  meta: {
    code: 'remember-without-rotation',
    severity: 'warning',
    title: 'A remember token is changed for another at each use.',
    why: 'A copied remember cookie that does not change works beside its owner to the end of its life, and nobody notices.',
    cwe: 'CWE-613',
    mend: 'Set rotates: true, which is what is taken when it is left out.',
  },
  *find({ policy: { remember } }) {
    if (remember !== null && !remember.rotates) yield { at: [...remember.at, 'rotates'], params: null };
  },
  message: () => 'remember tokens do not rotate: a copied one works unnoticed to its end',
});

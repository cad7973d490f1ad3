import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** Nobody is remembered for ever. */
export const rememberLifeLong = check<{ life: number }>({
  meta: {
    code: 'remember-life-long',
    severity: 'warning',
    title: 'Nobody is remembered for ever.',
    why: 'A remember cookie signs in whoever has it, on a machine that was sold or lost too.',
    cwe: 'CWE-613',
    mend: 'Choose a life of weeks.',
  },
  *find({ policy: { remember } }) {
    if (remember === null || remember.life <= LONGEST) return;
    yield { at: [...remember.at, 'life'], params: { life: remember.life } };
  },
  message: ({ life }) => `whoever has the remember cookie is signed in for ${formatDuration(life)}`,
});

/** Ninety days, in seconds. */
const LONGEST = 90 * 86_400;

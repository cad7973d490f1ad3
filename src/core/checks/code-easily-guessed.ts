import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** A one-time code is short-lived and allows few tries. */
export const codeEasilyGuessed = check<{ tries: number; life: number }>({
  meta: {
    code: 'code-easily-guessed',
    severity: 'warning',
    title: 'A one-time code is short-lived and allows few tries.',
    why: 'A code has six digits: what counts is how often, and for how long, it can be guessed at.',
    cwe: 'CWE-307',
    mend: 'Take a few tries, such as 3, and a life of minutes.',
  },
  *find({ policy: { secondFactor } }) {
    if (secondFactor === null) return;
    const { tries, life, at } = secondFactor;
    if (tries <= MOST_TRIES && life <= LONGEST) return;
    yield { at: [...at, tries > MOST_TRIES ? 'tries' : 'life'], params: { tries, life } };
  },
  message: ({ tries, life }) => `a one-time code is good for ${tries} tries and ${formatDuration(life)}`,
});

const MOST_TRIES = 10;
/** Half an hour, in seconds. */
const LONGEST = 1_800;

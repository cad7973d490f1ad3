import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** The limit of attempts slows guessing and locks nobody out. */
export const attemptsLimitDoubtful = check<{ perDay: number; pause: number }>({
  meta: {
    code: 'attempts-limit-doubtful',
    severity: 'warning',
    title: 'The limit of attempts slows guessing and locks nobody out.',
    why: 'A limit that lets thousands of guesses a day pass stops no script; one that locks a name for a day lets anybody lock anybody out.',
    cwe: 'CWE-307',
    mend: 'Take something like { most: 5, within: 15m, pause: 15m }.',
  },
  *find({ policy: { logins } }) {
    for (const { attempts } of logins) {
      if (attempts === null) continue;
      const { most, within, pause } = attempts;
      // As fast as it goes: one short of the limit again and again, or all of them and the pause.
      const perDay = Math.round(DAY * Math.max(most / Math.max(1, pause), (most - 1) / within));
      if (perDay <= MOST_GUESSES && pause < DAY) continue;
      yield { at: attempts.at, params: { perDay, pause } };
    }
  },
  message: ({ perDay, pause }) =>
    pause >= DAY
      ? `a few wrong passwords lock an account for ${formatDuration(pause)}, whoever typed them`
      : `a script still has ${perDay} guesses a day at each account`,
});

const DAY = 86_400;
const MOST_GUESSES = 5_000;

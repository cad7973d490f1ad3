import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** A refresh token does not outlive its login. */
export const refreshPastLongest = check<{ life: number; longest: number }>({
  meta: {
    code: 'refresh-past-longest',
    severity: 'warning',
    title: 'A refresh token does not outlive its login.',
    why: 'The login is over before its token is: the life that is written down is never reached.',
    cwe: null,
    mend: 'Choose a life below tokens.refresh.longest.',
  },
  *find({ policy: { tokens } }) {
    const refresh = tokens?.refresh ?? null;
    if (refresh === null || refresh.longest === null || refresh.life <= refresh.longest) return;
    yield { at: ['tokens', 'refresh', 'life'], params: { life: refresh.life, longest: refresh.longest } };
  },
  message: ({ life, longest }) =>
    `a refresh token would live for ${formatDuration(life)}, but no login lasts longer than ${formatDuration(longest)}`,
});

import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** The leeway of an access token is small beside its life. */
export const leewayTooLong = check<{ leeway: number; life: number }>({
  meta: {
    code: 'leeway-too-long',
    severity: 'warning',
    title: 'The leeway of an access token is small beside its life.',
    why: 'Leeway is for clocks that differ by seconds. Beyond that it is a longer life that nobody sees.',
    cwe: null,
    mend: 'Choose a few seconds of leeway.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    if (tokens === null || tokens.access.leeway < tokens.access.life) return;
    yield { at: ['tokens', 'access', 'leeway'], params: tokens.access };
  },
  message: ({ leeway, life }) =>
    `an access token of ${formatDuration(life)} is taken for ${formatDuration(leeway)} more after its end`,
});

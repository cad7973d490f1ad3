import { formatDuration } from '../time/duration.js';
import { check } from './check.js';

/** An access token lives shorter than the refresh token. */
export const accessOutlivesRefresh = check<{ access: number; refresh: number }>({
  meta: {
    code: 'access-outlives-refresh',
    severity: 'warning',
    title: 'An access token lives shorter than the refresh token.',
    why: 'When the access token runs out the refresh token is over already, so that nothing can ever be refreshed.',
    cwe: null,
    mend: 'Choose an access life well below that of the refresh token.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    if (tokens === null || tokens.refresh === null || tokens.access.life < tokens.refresh.life) return;
    yield {
      at: ['tokens', 'access', 'life'],
      params: { access: tokens.access.life, refresh: tokens.refresh.life },
      related: [{ at: ['tokens', 'refresh', 'life'], message: 'the refresh token is over by then' }],
    };
  },
  message: ({ access, refresh }) =>
    `the access token lives ${formatDuration(access)}, the refresh token only ${formatDuration(refresh)}`,
});

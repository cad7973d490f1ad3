import type { Law } from './law.js';

/** Nobody is thrown out by their own requests. */
export const honestRefresh: Law = {
  meta: {
    name: 'honest-refresh',
    title: 'An honest visitor is thrown out by their own parallel refreshes.',
    holds: 'Nobody is thrown out by their own requests at the same time.',
    mend: 'set tokens.shared-refresh: true, or a few seconds of tokens.refresh.grace',
    needs: { words: 'refresh tokens', isThere: ({ tokens }) => (tokens?.refresh ?? null) !== null },
    weight: 'law',
  },
  broken: ({ played, memory }) => {
    for (const { purpose, explanation, request } of played.exchanges) {
      if (purpose !== 'refresh' || explanation.reason !== 'refresh-reused') continue;
      if ([...memory.copied].some((handle) => handle.startsWith('refresh'))) continue;
      const shown = request.form.get('refresh_token') ?? 'a refresh token';
      return {
        seen: `${shown} was never in other hands, and is taken for stolen`,
        allowedBy: ['tokens', 'shared-refresh'],
        weakness: 'refresh',
      };
    }
    return null;
  },
};

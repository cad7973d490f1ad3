import { refreshesIn } from '../play/refreshes.js';
import type { Law } from './law.js';
import { callsOf } from '../steps/asking.js';

/** A request that fails is worth one refresh. */
export const oneRetry: Law = {
  meta: {
    name: 'one-retry',
    title: 'One failed request causes more than one refresh, or a refresh loop.',
    holds: 'A request that fails is worth one refresh.',
    mend: 'this is a fault of Cavrin: please report it',
    needs: { words: 'refresh tokens', isThere: ({ tokens }) => (tokens?.refresh ?? null) !== null },
    weight: 'law',
  },
  broken: ({ action, played: { exchanges } }) => {
    const calls = callsOf(action);
    if (calls !== null) {
      const refreshes = refreshesIn(exchanges);
      return refreshes <= calls.length
        ? null
        : {
            seen: `${refreshes} refreshes for ${calls.length} calls`,
            allowedBy: ['tokens', 'refresh-when'],
          };
    }
    if (exchanges.length < 2) return null;
    let refreshed: string | null = null;
    for (const [at, { purpose, request }] of exchanges.entries()) {
      if (purpose !== 'refresh') {
        if (purpose !== 'call' || request.path !== refreshed) refreshed = null;
        continue;
      }
      const call = exchanges[at - 1];
      if (refreshed !== null && call?.purpose === 'call' && call.request.path === refreshed) {
        return {
          seen: `${refreshed} is refreshed for more than once`,
          allowedBy: ['tokens', 'refresh-when'],
        };
      }
      // A refresh ahead of expiry comes before its call, one on a 401 behind it.
      refreshed = exchanges[at + 1]?.request.path ?? null;
    }
    return null;
  },
};

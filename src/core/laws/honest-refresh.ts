import { indexOf } from '../app/app.js';
import type { Law } from './law.js';

/** Nobody is thrown out by their own requests. */
export const honestRefresh: Law = {
  meta: {
    name: 'honest-refresh',
    title: 'An honest visitor is thrown out by their own refreshes.',
    holds: 'Nobody is thrown out by their own refreshes.',
    mend: 'set tokens.shared-refresh: true, or a few seconds of tokens.refresh.grace',
    needs: { words: 'refresh tokens', isThere: ({ tokens }) => (tokens?.refresh ?? null) !== null },
    weight: 'law',
  },
  broken: ({ played, memory, before, from, stage }) => {
    for (const { purpose, explanation, request } of played.exchanges) {
      if (purpose !== 'refresh' || explanation.reason !== 'refresh-reused') continue;
      if ([...memory.copied].some((handle) => handle.startsWith('refresh'))) continue;
      const shown = request.form.get('refresh_token') ?? 'a refresh token';
      const isUsed = (before.refreshTokens[indexOf('refresh', shown)]?.replaced ?? null) !== null;
      const isCopied =
        stage.client.tokens?.kept === 'tab' && from.behind.some(({ tokens }) => tokens?.refresh === shown);
      if (isUsed || isCopied) {
        return {
          seen: `${shown} was used by a tab of theirs that has a copy of it, and is taken for stolen`,
          allowedBy: ['tokens', 'shared-refresh'],
          weakness: 'refresh in a tab with a copy',
          mend: 'set tokens.shared-refresh: true: tabs with the same token tell each other of a new one',
        };
      }
      return {
        seen: `${shown} was never in other hands, and is taken for stolen`,
        allowedBy: ['tokens', 'shared-refresh'],
        weakness: 'refresh',
      };
    }
    return null;
  },
};

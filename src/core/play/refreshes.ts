import type { Exchange } from './stage.js';

/** How often tokens were asked for: a request to the token endpoint that was sent on is one with what it was sent on to. */
export function refreshesIn(exchanges: readonly Exchange[]): number {
  return exchanges.filter(({ purpose, response }) => purpose === 'refresh' && response.location === null)
    .length;
}

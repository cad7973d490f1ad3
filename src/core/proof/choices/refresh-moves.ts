// Step 3 of docs/proof-method.md: what is tried.

import { indexOf } from '../../app/app.js';
import { handleOf } from '../../credentials/holdings.js';
import type { Stage } from '../../play/stage.js';
import { THIEF } from './cast.js';
import type { Move } from '../situations/moves.js';

/**
 * Whoever has a copy of a refresh token sends it when they like, whatever script would do (RFC 6749 §6). While the token before it
 * still gets the same answer they wait: they would only have the same once more, a little younger.
 */
export function refreshesOf(stage: Stage): Move[] {
  const rules = stage.app.policy.tokens?.refresh ?? null;
  if (rules === null) return [];
  return [
    {
      browser: THIEF,
      action: { verb: 'refresh' },
      isDue({ refreshTokens }, browser, clock) {
        const held = indexOf('refresh', handleOf(stage, browser, 'refresh', clock) ?? '');
        return refreshTokens.every(
          ({ replaced }) => replaced?.refresh !== held || clock.elapsed(replaced.at, rules.grace),
        );
      },
    },
  ];
}

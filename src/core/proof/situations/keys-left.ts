// Step 2 of docs/proof-method.md: situations and moves.

import { keyFault, keyOf } from '../../app/keys.js';
import type { ApiKey, AppState } from '../../app/app.js';
import type { Instant } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import type { Limits } from '../time/limits.js';
import { EarliestClock } from '../time/symbolic-clock.js';
import type { Zone } from '../time/zone.js';
import type { Situation } from './situation.js';

/** Whether no browser holds anything, so that nobody but machines can do anything as somebody. */
export function isNobodyIn({ browsers }: Pick<Situation, 'browsers'>): boolean {
  for (const { cookies, tab, behind } of browsers.values()) {
    if (cookies.length > 0 || tab.tokens !== null || behind.some(({ tokens }) => tokens !== null)) {
      return false;
    }
  }
  return true;
}

/** The keys that machines use, whatever became of them, and of those before the last one, where it is still taken: no step shows any other. */
export function keysLeft(
  { keys }: AppState,
  limits: Limits,
  zone: Zone,
  instant: (at: Instant, life: Seconds) => Instant,
): ApiKey[] {
  const rules = limits.stage.app.policy.apiKeys;
  if (rules === null || keys.length === 0) return NONE;
  const clock = new EarliestClock(zone);
  return keys.flatMap((key, index): ApiKey[] => {
    const { account, madeAt, replacedAt } = key;
    if (index !== keyOf({ keys }, account, replacedAt !== null)) return NONE;
    if (replacedAt !== null && keyFault(rules, key, clock) !== null) return NONE;
    const { revoked } = key;
    return [
      {
        account,
        madeAt: instant(madeAt, revoked ? 0 : limits.keyMade),
        replacedAt: replacedAt === null ? null : instant(replacedAt, limits.keyReplaced),
        revoked,
      },
    ];
  });
}

const NONE: ApiKey[] = [];

// Step 2 of docs/proof-method.md: situations and moves.

import { indexOf, type AppState, type ProviderSession } from '../../app/app.js';
import type { Cookie } from '../../browser/cookie-jar.js';
import type { Seconds } from '../../time/duration.js';
import type { Instant } from '../../time/clock.js';
import type { Limits } from '../time/limits.js';
import type { Situation } from './situation.js';

/** The largest age at which anything asks when a provider came to know a browser. */
function providerLife({ stage }: Limits, { provider }: ProviderSession): Seconds {
  return stage.app.policy.providers.find(({ name }) => name === provider)?.session ?? 0;
}

/** Whether a cookie is for the way to a provider and back, or is by what a provider knows a browser. */
export function isOfProvider({ value }: Pick<Cookie, 'value'>): boolean {
  return value.startsWith('asked-') || value.startsWith('provider-');
}

/** Whether a provider still knows a browser by a cookie. */
export function isKnownThere({ value }: Cookie, { state, zone }: Situation, limits: Limits): boolean {
  const record = state.providerSessions[indexOf('provider', value)];
  if (record === undefined || record.ended) return false;
  // One that asks each time goes by nothing that it knows.
  const { providers } = limits.stage.app.policy;
  if (providers.find(({ name }) => name === record.provider)?.asksAgain === true) return false;
  const life = providerLife(limits, record);
  return life === 0 || zone.ages(record.startedAt).least < life;
}

/**
 * What providers know of browsers, of which these are left. Whoever is sent to one starts anew: codes and requests under way come to
 * nothing more once a move is over.
 */
export function providersLeft(
  { providerSessions }: AppState,
  left: readonly number[],
  limits: Limits,
  instant: (at: Instant, life: Seconds) => Instant,
): Pick<AppState, 'providerSessions' | 'codes' | 'asked'> {
  return {
    providerSessions: left.flatMap((index) => {
      const record = providerSessions[index];
      return record === undefined
        ? []
        : [{ ...record, startedAt: instant(record.startedAt, providerLife(limits, record)) }];
    }),
    codes: NOTHING,
    asked: NOTHING,
  };
}

const NOTHING: readonly never[] = [];

// Step 2 of docs/proof-method.md: situations and moves.

import type { AppState } from '../../app/app.js';
import type { BrowserState } from '../../browser/state.js';
import { initialState } from '../../app/app.js';
import type { Policy } from '../../language/policy.js';
import { NOTHING_YET, type Memory } from '../../laws/memory.js';
import { instantOf, type Instant } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import { longestAsked } from '../time/limits.js';
import { Zone } from '../time/zone.js';

/** App and browsers between two steps, at every time at which they can be so. Instants are numbers of clocks of the zone. */
export interface Situation {
  readonly state: AppState;
  readonly browsers: ReadonlyMap<string, BrowserState>;
  /** What the laws remember of the steps before. */
  readonly memory: Memory;
  readonly zone: Zone;
}

/**
 * The situation in which every walk starts. There is a clock for each account that was made lately, where that is asked for, and
 * for each key that comes to an end.
 *
 * @param account the only one that anybody logs in to; null for all
 */
export function firstSituation(policy: Policy, account: string | null = null): Situation {
  let zone = Zone.empty();
  const joined = new Map<string, Instant>();
  for (const { name, joined: age } of young(policy, account)) {
    const clock = zone.size;
    zone = zone.started().shifted(clock, age);
    joined.set(name, instantOf(clock));
  }
  const isTimed = (policy.apiKeys?.life ?? null) !== null;
  const keys = initialState(policy)
    .keys.filter((key) => account === null || key.account === account)
    .map((key) => {
      if (!isTimed) return key;
      zone = zone.started();
      return { ...key, madeAt: instantOf(zone.size - 1) };
    });
  return { state: { ...initialState(policy), joined, keys }, browsers: new Map(), memory: NOTHING_YET, zone };
}

/** How old each clock of the first situation is already. */
export function firstAges(policy: Policy, account: string | null = null): Seconds[] {
  const timed = (policy.apiKeys?.life ?? null) === null ? [] : [...policy.accounts.values()];
  const made = timed.filter(({ name, key }) => key && (account === null || name === account));
  return [...young(policy, account).map(({ joined }) => joined), ...made.map(() => 0)];
}

/** The accounts that were made so lately that something asks for it. */
function young(
  policy: Policy,
  account: string | null,
): { readonly name: string; readonly joined: Seconds }[] {
  const asked = longestAsked(policy, ({ joinedWithin }) => joinedWithin);
  return [...policy.accounts.values()].flatMap(({ name, joined }) =>
    joined === null || joined >= asked || (account !== null && name !== account) ? [] : [{ name, joined }],
  );
}

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
 * The situation in which every walk starts. There is a clock for each account that was made lately, where that is asked for.
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
  return { state: { ...initialState(policy), joined }, browsers: new Map(), memory: NOTHING_YET, zone };
}

/** How old each clock of the first situation is already. */
export function firstAges(policy: Policy, account: string | null = null): Seconds[] {
  return young(policy, account).map(({ joined }) => joined);
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

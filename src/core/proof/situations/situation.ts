// Step 2 of docs/proof-method.md: situations and moves.

import type { AppState } from '../../app/app.js';
import type { BrowserState } from '../../browser/state.js';
import { initialState } from '../../app/app.js';
import type { Policy } from '../../language/policy.js';
import { NOTHING_YET, type Memory } from '../../laws/memory.js';
import { Zone } from '../time/zone.js';

/** App and browsers between two steps, at every time at which they can be so. Instants are numbers of clocks of the zone. */
export interface Situation {
  readonly state: AppState;
  readonly browsers: ReadonlyMap<string, BrowserState>;
  /** What the laws remember of the steps before. */
  readonly memory: Memory;
  readonly zone: Zone;
}

/** The situation in which every walk starts. */
export function firstSituation(policy: Policy): Situation {
  return { state: initialState(policy), browsers: new Map(), memory: NOTHING_YET, zone: Zone.empty() };
}

// Step 5 of docs/proof-method.md: cover and search.

import { matches, segmentsOf } from '../../paths/pattern.js';
import type { PolicyPromise } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { pathOf } from '../../app/endpoints.js';
import { THIEF } from '../choices/cast.js';
import { takeMove, type Move, type Taken } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';
import { clocksOf } from './trail.js';
import type { Zone } from '../time/zone.js';
import { entrantOf, hasTrait, requestOf } from '../../steps/asking.js';

/** Steps by which somebody who is signed in may come to a page, without becoming somebody else. */

/** Whether people who are signed in can come to some pages in so many steps, at once and by themselves. */
export class Reach {
  constructor(
    private readonly stage: Stage,
    private readonly promise: PolicyPromise & { readonly withinSteps: number },
    private readonly choices: readonly Move[],
  ) {}

  /** Whether a move is a visit to such a page by somebody signed in who is not shown it, and no other way is short enough. */
  isMissed(before: Situation, { browser, action }: Move, taken: Taken): boolean {
    const asked = requestOf(action);
    if (browser === THIEF || asked?.isOpened !== true) return false;
    if (!this.isOne(asked.address) || this.isThere(taken)) return false;
    const account = taken.played.exchanges[0]?.visitor.account ?? null;
    if (account === null) return false;
    const steps = this.choices.filter(
      (move) => move.browser === browser && hasTrait(move.action, 'on-the-way') && isOwn(move, account),
    );
    const zone = taken.after.zone.only(clocksOf(before));
    return this.outside({ ...before, zone }, steps, this.promise.withinSteps).length > 0;
  }

  /** The ages at which no such page is reached by so many steps at once. */
  private outside(situation: Situation, steps: readonly Move[], most: number): Zone[] {
    let left = [situation.zone];
    const clocks = clocksOf(situation);
    for (const move of steps) {
      left = left.flatMap((zone) => {
        const ways = takeMove(this.stage, { ...situation, zone }, move, false);
        // A step that cannot be taken leads nowhere.
        if (ways.length === 0) return [zone];
        return ways.flatMap((taken) => {
          if (this.isThere(taken)) return [];
          const after = most > 1 ? this.outside(taken.after, steps, most - 1) : [taken.after.zone];
          return after.map((each) => each.only(clocks));
        });
      });
      if (left.length === 0) break;
    }
    return left;
  }

  private isThere({ played }: Taken): boolean {
    return played.exchanges.some(
      ({ route, response }) => route !== null && response.status < 300 && this.isOne(route.path),
    );
  }

  private isOne(address: string): boolean {
    const segments = segmentsOf(pathOf(address));
    return this.promise.reach.some((pattern) => matches(pattern, segments));
  }
}

function isOwn({ action }: Move, account: string): boolean {
  return (entrantOf(action)?.account ?? account) === account;
}

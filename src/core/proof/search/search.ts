// Step 5 of docs/proof-method.md: cover and search.

import type { Seconds } from '../../time/duration.js';
import { canonicalWithClocks } from '../situations/canonical.js';
import { isOpen } from '../choices/open-moves.js';
import { KeyWriter } from '../situations/key.js';
import { stillWatched } from '../situations/over.js';
import { takeMove, type Taken } from '../situations/moves.js';
import { Reduction } from '../abstraction/reduction.js';
import type { Scene } from './scene.js';
import { firstAges, firstSituation, type Situation } from '../situations/situation.js';
import { followed, trailFrom, wayOf, type Trail, type Way } from './trail.js';
import { watchedFor } from './goals.js';
import type { LeftBehind } from '../../laws/memory.js';
import type { Zone } from '../time/zone.js';

/** At least how many moves are left to one that misses the goal; infinite where none can. */
export type Guide = (situation: Situation) => number;

interface Met {
  readonly zone: Zone;
  readonly depth: number;
}

/**
 * Looks for a way to miss a goal, the shortest in moves and, of those, in time. Where there is none, everything that can come
 * about is looked at, but for what the guide rules out.
 */
export class Search {
  private readonly reduction: Reduction;
  private readonly keys: KeyWriter;
  private readonly isWatched: (left: LeftBehind) => boolean;
  private readonly met = new Map<string, Met[]>();
  /** Trails by the least number of moves that a way over them can have. */
  private readonly open: Trail[][] = [];
  private best: Trail | null = null;
  private missedToo: readonly string[] = [];
  private leastSeconds: Seconds = Number.POSITIVE_INFINITY;
  /** Moves that were looked at, each with each way in which it can come out. */
  transitions = 0;
  looked = 0;

  /**
   * @param timed whether one clock more counts the time of the whole way, so that the quickest is found
   * @param longest ways with more moves are left out
   */
  constructor(
    private readonly scene: Scene,
    private readonly goal: string,
    private readonly guide: Guide,
    private readonly timed = false,
    readonly longest = Number.POSITIVE_INFINITY,
  ) {
    const { stage, limits, cast } = scene;
    const { policy } = stage.app;
    this.reduction = new Reduction(stage, limits);
    this.keys = new KeyWriter(policy.accounts);
    this.isWatched = watchedFor(goal, policy);
    const first = firstSituation(policy, cast.account);
    const zone = timed ? first.zone.started() : first.zone;
    this.add(trailFrom({ ...first, zone }, firstAges(policy, cast.account)));
  }

  /** Looks at so many situations more; whether there is nothing left to look at. */
  go(most: number): boolean {
    for (let done = 0; done < most; done++) {
      const trail = this.next();
      if (trail === null) return true;
      this.looked += 1;
      this.look(trail);
    }
    return false;
  }

  /** The shortest way that was found; null for none. */
  get way(): Way | null {
    return this.best === null ? null : wayOf(this.best);
  }

  /** The goals that its last move misses. */
  get missed(): readonly string[] {
    return this.missedToo;
  }

  private next(): Trail | null {
    // As many moves may still be made quicker.
    const most = this.best === null ? this.longest : this.best.depth - (this.timed ? 0 : 1);
    for (let total = 0; total < this.open.length && total <= most; total++) {
      const trail = this.open[total]?.pop();
      if (trail !== undefined) return trail;
    }
    return null;
  }

  private look(trail: Trail): void {
    const { stage, cast, moves } = this.scene;
    const { situation } = trail;
    const found: Trail[] = [];
    for (const move of moves) {
      if (!isOpen(stage, cast, situation, move)) continue;
      for (const taken of takeMove(stage, situation, move)) {
        this.transitions += 1;
        const missed = this.scene.missedBy(situation, move, taken);
        const isReached = missed.includes(this.goal);
        for (const part of this.watchedApart(this.reduction.of(taken.after))) {
          const next = followed(trail, move, taken, this.short(part, totalOf(trail)));
          if (isReached) this.reach(next, trail, taken, missed);
          else found.push(next);
          if (isReached) break;
        }
      }
    }
    // The last that is added is looked at first, and of walks that are as short the plainest, which come first, are wanted.
    for (const next of found.reverse()) this.add(next);
  }

  /** In canonical form; where time is counted, with the clock that counts it behind all others. */
  private short(
    reduced: Situation,
    total: number,
  ): { readonly situation: Situation; readonly clocks: readonly number[] } {
    const { situation, clocks, largest } = canonicalWithClocks(reduced, this.scene.limits);
    if (!this.timed) return { situation, clocks };
    const all = [...clocks, total];
    // Only how little time it can have been matters.
    const zone = reduced.zone
      .only(all)
      .boundless(all.length)
      .coarsened([...largest, Number.POSITIVE_INFINITY]);
    return { situation: { ...situation, zone }, clocks: all };
  }

  /**
   * With nothing watched but what the goal is about, and of that one thing at a time: the goal is missed where one of them shows
   * it, so that each can be followed alone.
   */
  private watchedApart(situation: Situation): Situation[] {
    const { memory } = situation;
    if (memory.leftBehind.length === 0) return [situation];
    const watched = stillWatched(this.scene.stage, situation).filter(this.isWatched);
    const only = (leftBehind: readonly LeftBehind[]) => ({ ...situation, memory: { ...memory, leftBehind } });
    return watched.length < 2 ? [only(watched)] : watched.map((left) => only([left]));
  }

  private reach(end: Trail, before: Trail, { after }: Taken, missed: readonly string[]): void {
    const seconds = this.timed ? after.zone.ages(totalOf(before)).least : 0;
    const isBetter =
      this.best === null ||
      end.depth < this.best.depth ||
      (end.depth === this.best.depth && seconds < this.leastSeconds);
    if (!isBetter) return;
    this.best = end;
    this.missedToo = missed;
    this.leastSeconds = seconds;
  }

  private add(trail: Trail): void {
    const { situation, depth } = trail;
    const total = depth + this.guide(situation);
    if (total > this.longest || total === Number.POSITIVE_INFINITY) return;
    // No way that goes on from here is quicker than one that is known.
    if (this.timed && situation.zone.ages(totalOf(trail)).least >= this.leastSeconds) return;
    const key = this.keys.of(situation);
    const known = this.met.get(key);
    if (known?.some((each) => each.depth <= depth && each.zone.includes(situation.zone)) === true) return;
    if (known === undefined) this.met.set(key, [{ zone: situation.zone, depth }]);
    else known.push({ zone: situation.zone, depth });
    (this.open[total] ??= []).push(trail);
  }
}

/** The clock that counts the time of the whole way. */
function totalOf({ situation }: Trail): number {
  return situation.zone.size - 1;
}

// Step 5 of docs/proof-method.md: cover and search.

import { isAdministration } from '../../steps/all-steps.js';
import { Abstraction, isPeopleless } from '../abstraction/abstraction.js';
import { followsForms, THIEF } from '../choices/cast.js';
import { isOpen } from '../choices/open-moves.js';
import { KeyWriter } from '../situations/key.js';
import { takeMove, type Taken } from '../situations/moves.js';
import type { Scene } from './scene.js';
import type { Guide } from './search.js';
import { firstSituation, type Situation } from '../situations/situation.js';
import { worldsOf } from '../abstraction/worlds.js';
import type { Zone } from '../time/zone.js';
import { hasTrait } from '../../steps/asking.js';

/** A part of situations with all the ages at which it can come about, and possibly more. */
export interface Part {
  /** At all ages, those included to which it grows until the next move. */
  situation: Situation;
  /** The ages right after the moves that lead to it. */
  fresh: Zone;
  /** The parts that a move leads to, and those that it leads to without any. */
  readonly next: Set<Part>;
  readonly same: Set<Part>;
  /** The goals that are missed by a move from here. */
  readonly misses: Set<string>;
  /** How often its ages were found to be more than was known. */
  grown: number;
  isOpen: boolean;
  /** How many parts were met before it. */
  readonly order: number;
}

/** After so many times the ages of a part are let grow as far as they go at once. */
const PATIENCE = 1;

/**
 * Covers everything that can come about, and possibly more, until nothing new comes: what breaks no law here breaks none at
 * all. What does break one here may still be impossible; `Search` tells.
 */
export class Cover {
  private readonly parts = new Map<string, Part>();
  /** By the key of their situation. */
  private readonly spansOf = new Map<string, Part[]>();
  private readonly queue: Part[] = [];
  private readonly abstraction: Abstraction;
  private readonly keys: KeyWriter;
  /** Moves that were looked at, each with each way in which it can come out. */
  transitions = 0;

  /**
   * @param spans into so many spans the time is split for which something is watched, and each goes on apart; with one, few parts
   *   are met, and with more it is better known how many moves are left
   */
  constructor(
    private readonly scene: Scene,
    private readonly spans = 1,
  ) {
    const { stage, limits, cast } = scene;
    const { policy } = stage.app;
    this.abstraction = new Abstraction(stage, limits, followsForms(cast));
    this.keys = new KeyWriter(policy.accounts);
    for (const part of this.abstraction.partsOf(firstSituation(policy, cast.account))) {
      this.meet(part);
    }
  }

  /** How many parts were met. */
  get size(): number {
    return this.parts.size;
  }

  /** How many parts are still to be looked at. */
  get left(): number {
    return this.queue.length;
  }

  /** Everything that was met. */
  all(): Iterable<Part> {
    return this.parts.values();
  }

  /** Looks at so many parts more; whether all were looked at. */
  go(most: number): boolean {
    for (let done = 0; done < most; done++) {
      const part = this.next();
      if (part === undefined) return true;
      part.isOpen = false;
      this.look(part);
    }
    return this.queue.length === 0;
  }

  /** At least how many moves are left to one that misses a goal. */
  guideTo(goal: string): Guide {
    const left = this.movesLeftTo(goal);
    return (situation) => {
      let least = Number.POSITIVE_INFINITY;
      for (const each of this.abstraction.partsOf(situation)) {
        least = Math.min(least, this.leastFrom(each, left));
      }
      return least;
    };
  }

  /** At least how many moves are left from a part of some ages: each span that has them all among its own tells. */
  private leastFrom(part: Situation, left: ReadonlyMap<Part, number>): number {
    let most = 0;
    for (const span of this.spansOf.get(this.keys.of(part)) ?? []) {
      if (this.spans > 1 && !span.fresh.includes(part.zone)) continue;
      most = Math.max(most, left.get(span) ?? Number.POSITIVE_INFINITY);
    }
    // A part that is known in another form only, such as with a cookie that is over by now, tells nothing.
    return Math.max(1, most);
  }

  /** The least number of moves from each part to one that misses a goal, that one counted. */
  private movesLeftTo(goal: string): ReadonlyMap<Part, number> {
    const before = new Map<Part, { readonly part: Part; readonly moves: number }[]>();
    const link = (to: Part, part: Part, moves: number) => {
      const known = before.get(to);
      if (known === undefined) before.set(to, [{ part, moves }]);
      else known.push({ part, moves });
    };
    const left = new Map<Part, number>();
    for (const part of this.parts.values()) {
      for (const to of part.next) link(to, part, 1);
      for (const to of part.same) link(to, part, 0);
      if (part.misses.has(goal)) left.set(part, 1);
    }
    // Each round carries what is known one step back; a part is looked at again whenever it is found to be nearer.
    for (let changed = [...left.keys()]; changed.length > 0;) {
      const nearer = new Set<Part>();
      for (const to of changed) {
        for (const { part, moves } of before.get(to) ?? []) {
          const total = (left.get(to) ?? 0) + moves;
          if (total >= (left.get(part) ?? Number.POSITIVE_INFINITY)) continue;
          left.set(part, total);
          nearer.add(part);
        }
      }
      changed = [...nearer];
    }
    return left;
  }

  /** The open part that was met first: what it leads to is looked at once more is known of its ages, and not before. */
  private next(): Part | undefined {
    let first = 0;
    for (const [at, { order }] of this.queue.entries()) {
      if (order < (this.queue[first]?.order ?? order)) first = at;
    }
    return this.queue.splice(first, 1)[0];
  }

  private look(part: Part): void {
    const { situation } = part;
    const { stage, cast, moves } = this.scene;
    const atForm = this.abstraction.isAtForm(situation);
    const peopleless = isPeopleless(situation);
    if (atForm) {
      for (const each of this.abstraction.partsOf(this.abstraction.turnedAway(situation))) {
        part.same.add(this.meet(each));
      }
    }
    const seen = new Set<string>();
    for (const [index, move] of moves.entries()) {
      const { browser, action } = move;
      // Only forms are filled in from a form that passes an address on: all else is tried with it turned away from.
      if (atForm && !hasTrait(action, 'way-in')) continue;
      // Where nobody is left one move of a newcomer will do, to see what time alone brings.
      if (peopleless && browser !== THIEF && !isAdministration(action) && move !== moves[0]) continue;
      if (!isOpen(stage, cast, situation, move)) continue;
      for (const [at, world] of worldsOf(stage, cast, situation, move).entries()) {
        // What comes of other worlds than the part itself is not compared.
        const from = world === situation ? '' : `${index}.${at} `;
        for (const taken of takeMove(stage, world, move)) {
          for (const goal of this.scene.missedBy(world, move, taken)) part.misses.add(goal);
          this.arrive(part, world, from, taken, seen);
        }
      }
    }
  }

  private arrive(part: Part, world: Situation, from: string, taken: Taken, seen: Set<string>): void {
    this.transitions += 1;
    // Many moves come to the same: all but the first are told by it before they are taken apart.
    const { after, answers } = taken;
    let key = from;
    for (const { since, limit, isElapsed } of answers) {
      key += isElapsed ? `+${since}.${limit}` : `-${since}.${limit}`;
    }
    key += this.keys.ofDifference(world, after, this.abstraction.reduction);
    if (seen.has(key)) return;
    seen.add(key);
    for (const each of this.abstraction.partsOf(after)) part.next.add(this.meet(each));
  }

  /** The key of the part that a situation belongs to, and what is known of the ages of all that belong to it. */
  private spanOf(
    { memory, zone }: Situation,
    base: string,
  ): { readonly key: string; readonly within: (zone: Zone) => Zone } {
    const whole = { key: base, within: (all: Zone) => all };
    if (this.spans === 1) return whole;
    const [watched] = [
      ...memory.leftBehind.map(({ after, at }) => ({ event: after, at })),
      ...memory.changed.values(),
    ];
    const longest = watched === undefined ? 0 : this.scene.limits.sinceEvent[watched.event];
    if (watched === undefined || longest === 0) return whole;
    const { at } = watched;
    const { greatest } = zone.ages(at);
    if (greatest >= longest) return whole;
    const span = Math.floor((greatest * this.spans) / longest);
    const most = Math.ceil(((span + 1) * longest) / this.spans) - 1;
    return { key: `${base} ${span}`, within: (all) => all.where(at, 'at-most', most) ?? all };
  }

  private meet(situation: Situation): Part {
    const base = this.keys.of(situation);
    const { key, within } = this.spanOf(situation, base);
    const known = this.parts.get(key);
    if (known === undefined) {
      const { zone } = situation;
      const part = {
        situation: { ...situation, zone: zone.later() },
        fresh: zone,
        next: new Set<Part>(),
        same: new Set<Part>(),
        misses: new Set<string>(),
        grown: 0,
        isOpen: true,
        order: this.parts.size,
      };
      this.parts.set(key, part);
      const spans = this.spansOf.get(base);
      if (spans === undefined) this.spansOf.set(base, [part]);
      else spans.push(part);
      this.queue.push(part);
      return part;
    }
    if (known.fresh.includes(situation.zone)) return known;
    known.grown += 1;
    known.fresh = within(known.fresh.joined(situation.zone, known.grown > PATIENCE));
    const zone = known.fresh.later();
    if (known.situation.zone.includes(zone)) return known;
    known.situation = { ...known.situation, zone };
    if (!known.isOpen) {
      known.isOpen = true;
      this.queue.push(known);
    }
    return known;
  }
}

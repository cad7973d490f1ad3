// Step 1 of docs/proof-method.md: time.

import { BEGINNING, type Clock, type Instant, instantOf } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import type { Zone } from './zone.js';

/** A question whose answer the ages known so far left open, with the answer that was given. */
export interface Answer {
  /** The clock whose age was asked for. */
  readonly since: number;
  readonly limit: Seconds;
  readonly isElapsed: boolean;
}

/** That an age was compared with more than `Limits` says it ever is. It is a fault of the program, and would make proofs wrong. */
export class UndeclaredAge extends Error {
  constructor(limit: Seconds, most: Seconds) {
    super(`an age was compared with ${limit} s, beyond the ${most} s that are kept of it`);
  }
}

/**
 * A clock that stands for every time at which something can happen. What is asked of it is answered from the zone where that
 * settles it; else the next of the given answers is given, then yes, and the zone narrowed to the ages that fit.
 *
 * An instant is the number of a clock of the zone; `now` is its last, which starts with this one.
 */
export class SymbolicClock implements Clock {
  readonly now: Instant;
  readonly isAnyTime = true;
  private narrowed: Zone;
  private readonly given: Answer[] = [];

  /**
   * @param before the ages at the end of the step before
   * @param script the answers to give, in order, to questions that are open
   * @param passes whether any time may have passed since
   */
  constructor(
    before: Zone,
    private readonly script: readonly boolean[],
    passes = true,
  ) {
    this.narrowed = (passes ? before.later() : before).started();
    this.now = instantOf(this.narrowed.size - 1);
  }

  /** The ages that fit all that was answered. */
  get zone(): Zone {
    return this.narrowed;
  }

  /** The answers that were left open, and how each was given. */
  get answers(): readonly Answer[] {
    return this.given;
  }

  /** @throws where more is asked of an age than was declared: what is known of it would not tell */
  elapsed(since: Instant, limit: Seconds): boolean {
    if (limit > this.narrowed.mostAsked(since)) {
      throw new UndeclaredAge(limit, this.narrowed.mostAsked(since));
    }
    if (-this.narrowed.bound(0, since) >= limit) return true;
    if (this.narrowed.bound(since, 0) < limit) return false;
    const isElapsed = this.script[this.given.length] ?? true;
    const left = isElapsed
      ? this.narrowed.where(since, 'at-least', limit)
      : this.narrowed.where(since, 'at-most', limit - 1);
    // Both answers are possible here: the least age is below the limit, and the greatest is not.
    if (left === null) throw new Error('an open question without an answer');
    this.narrowed = left;
    this.given.push({ since, limit, isElapsed });
    return isElapsed;
  }
}

/** The clock at the earliest that something can happen: no age is ever less than it is then, each taken by itself. */
export class EarliestClock implements Clock {
  readonly now = BEGINNING;

  constructor(private readonly zone: Zone) {}

  elapsed(since: Instant, limit: Seconds): boolean {
    return this.zone.ages(since).least >= limit;
  }
}

/**
 * Does something once for each way in which its questions about time can be answered.
 *
 * @example everyWay((clock) => respondTo(app, state, request, clock), zone)
 */
export function everyWay<Result>(
  act: (clock: SymbolicClock) => Result,
  before: Zone,
  passes = true,
): { readonly result: Result; readonly zone: Zone; readonly answers: readonly Answer[] }[] {
  const ways: { readonly result: Result; readonly zone: Zone; readonly answers: readonly Answer[] }[] = [];
  const scripts: (readonly boolean[])[] = [[]];
  for (let script = scripts.pop(); script !== undefined; script = scripts.pop()) {
    const clock = new SymbolicClock(before, script, passes);
    const result = act(clock);
    const { answers, zone } = clock;
    ways.push({ result, zone, answers });
    // Every answer beyond the script was yes: each is turned into a no once, with what came before it kept.
    for (let at = answers.length - 1; at >= script.length; at--) {
      scripts.push([...answers.slice(0, at).map(({ isElapsed }) => isElapsed), false]);
    }
  }
  return ways;
}

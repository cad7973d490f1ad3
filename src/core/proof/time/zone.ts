// Step 1 of docs/proof-method.md: time.

import { at } from '../../vocabulary/tables.js';
import type { Seconds } from '../../time/duration.js';

/** No bound. */
const FREE = Number.POSITIVE_INFINITY;
const UNDECLARED: readonly Seconds[] = [];

/**
 * Zeros to begin with. Plain arrays are made in a tenth of the time of typed ones; this one has held a fraction, so that it
 * and its copies keep numbers as such and never change how they are laid out.
 */
const ZEROS = Array<number>(64 * 64).fill(0.5);
ZEROS.fill(0);

function zeros(length: number): number[] {
  return length <= ZEROS.length ? ZEROS.slice(0, length) : Array<number>(length).fill(0);
}

/**
 * The ages that some clocks can have together: every pair of them lies no further apart than a bound. A clock is started at
 * some instant, and its age is the whole seconds since then. Clock 0 is always 0, so bounds against it are bounds on one age.
 *
 * Kept as a square of bounds, `bounds[i * size + j]` for how much older clock i can be than clock j, and always closed: no
 * bound is looser than what two others imply.
 */
export class Zone {
  /** The same with one clock more, once that was asked for: every move from a situation asks for it. */
  private withOne: Zone | null = null;

  private constructor(
    private readonly bounds: number[],
    /** The number of clocks, clock 0 among them. */
    readonly size: number,
    /** The largest age that each clock is ever compared with, clock 0 left out, as far as that was declared. */
    private readonly largest: readonly Seconds[] = UNDECLARED,
  ) {}

  /** No clock but clock 0. */
  static empty(): Zone {
    return new Zone(zeros(1), 1);
  }

  /**
   * The largest age that a clock may be compared with: beyond it nothing is known of ages any more. Clock 0 stands for every
   * instant of which it was declared that nothing is asked.
   */
  mostAsked(clock: number): Seconds {
    return clock === 0 ? 0 : (this.largest[clock - 1] ?? FREE);
  }

  /** All bounds as a text, the same for the same ages. */
  get text(): string {
    return this.bounds.join();
  }

  /** How much older one clock can be than another; infinite for no bound. */
  bound(older: number, younger: number): Seconds {
    return this.bounds[older * this.size + younger] ?? FREE;
  }

  /** The least and the greatest age of a clock. */
  ages(clock: number): { readonly least: Seconds; readonly greatest: Seconds } {
    // Taken from 0, since -0 would print.
    return { least: 0 - this.bound(0, clock), greatest: this.bound(clock, 0) };
  }

  /** The same after any time has passed, none included. */
  later(): Zone {
    if (this.isLater()) return this;
    const bounds = this.bounds.slice();
    for (let clock = 1; clock < this.size; clock++) bounds[clock * this.size] = FREE;
    return new Zone(bounds, this.size, this.largest);
  }

  private isLater(): boolean {
    for (let clock = 1; clock < this.size; clock++) if (this.bounds[clock * this.size] !== FREE) return false;
    return true;
  }

  /** With one clock more, which starts now. */
  started(): Zone {
    if (this.withOne !== null) return this.withOne;
    const { size: old, bounds: from } = this;
    const size = old + 1;
    const bounds = zeros(size * size);
    for (let i = 0; i < old; i++) {
      for (let j = 0; j < old; j++) bounds[i * size + j] = at(from, i * old + j);
      // As old as clock 0.
      bounds[i * size + old] = at(from, i * old);
      bounds[old * size + i] = at(from, i);
    }
    this.withOne = new Zone(bounds, size, this.largest);
    return this.withOne;
  }

  /** With one clock more, of any age. */
  undated(): Zone {
    const { bounds, size } = this.started();
    const zone = new Zone(bounds.slice(), size, this.largest);
    zone.bounds.fill(FREE, this.size * size, this.size * size + this.size);
    return zone;
  }

  /** Only the ages at which a clock is at least, or at most, so old; null where there are none. */
  where(clock: number, how: 'at-least' | 'at-most', age: Seconds): Zone | null {
    return how === 'at-least' ? this.tightened(0, clock, -age) : this.tightened(clock, 0, age);
  }

  /** With clock `older` older than `younger` by at most a bound; null where that leaves nothing. */
  tightened(older: number, younger: number, bound: Seconds): Zone | null {
    const { size, bounds: from } = this;
    if (at(from, older * size + younger) <= bound) return this;
    if (at(from, younger * size + older) + bound < 0) return null;
    const bounds = from.slice();
    const last = younger * size;
    for (let row = 0; row < from.length; row += size) {
      const through = at(from, row + older) + bound;
      // Bounds are closed: where it is no shorter way to the younger clock, it is none beyond.
      if (at(from, row + younger) <= through) continue;
      for (let j = 0; j < size; j++) {
        const around = through + at(from, last + j);
        if (around < at(from, row + j)) bounds[row + j] = around;
      }
    }
    return new Zone(bounds, size, this.largest);
  }

  /** Only some of the clocks, in the order given; clock 0 stays where it is. */
  only(clocks: readonly number[]): Zone {
    const { bounds: from, size: old } = this;
    const size = clocks.length + 1;
    const bounds = zeros(size * size);
    for (let i = 0; i < size; i++) {
      const row = (i === 0 ? 0 : at(clocks, i - 1)) * old;
      for (let j = 0; j < size; j++) {
        bounds[i * size + j] = at(from, row + (j === 0 ? 0 : at(clocks, j - 1)));
      }
    }
    const largest = this.largest === UNDECLARED ? UNDECLARED : clocks.map((clock) => this.mostAsked(clock));
    return new Zone(bounds, size, largest);
  }

  /**
   * With every bound dropped that lies beyond what a clock's age is ever compared with, so that there are only finitely many
   * zones. It lets in more ages, but none that any comparison tells from one that was in.
   *
   * @param largest the largest age that each clock is compared with, clock 0 left out
   */
  coarsened(largest: readonly Seconds[]): Zone {
    const { size, bounds: from } = this;
    let bounds: number[] | null = null;
    for (let i = 0; i < size; i++) {
      const most = i === 0 ? 0 : (largest[i - 1] ?? 0);
      for (let j = 0; j < size; j++) {
        const bound = at(from, i * size + j);
        if (i === j || bound === FREE) continue;
        const least = j === 0 ? 0 : -(largest[j - 1] ?? 0);
        if (!(bound > most && i !== 0) && bound >= least) continue;
        bounds ??= from.slice();
        bounds[i * size + j] = bound > most && i !== 0 ? FREE : least;
      }
    }
    return new Zone(bounds === null ? from : closed(bounds, size), size, largest);
  }

  /**
   * The smallest zone with the ages of both in it; it may let in others too.
   *
   * @param wide whether bounds that grow go as far as anything is asked of their clock, and are dropped after that, so that growing
   *   comes to an end soon
   */
  joined(other: Zone, wide: boolean): Zone {
    const { size } = this;
    const bounds = this.bounds.slice();
    let isDropped = false;
    for (let index = 0; index < bounds.length; index++) {
      const more = other.bounds[index] ?? FREE;
      if (more <= (bounds[index] ?? FREE)) continue;
      // No age is below 0.
      bounds[index] = !wide ? more : index < size ? 0 : this.widened(Math.floor(index / size), more);
      isDropped ||= wide;
    }
    return new Zone(isDropped ? closed(bounds, size) : bounds, size, this.largest);
  }

  /** How far to let a bound on a clock grow that has come to be so large: to the last second before its limit, when things are renewed. */
  private widened(clock: number, bound: Seconds): Seconds {
    const last = this.mostAsked(clock) - 1;
    return bound <= last ? last : FREE;
  }

  /** With nothing known any more of how much older than others a clock can be, itself included. */
  boundless(clock: number): Zone {
    const bounds = this.bounds.slice();
    bounds.fill(FREE, clock * this.size, (clock + 1) * this.size);
    bounds[clock * this.size + clock] = 0;
    return new Zone(bounds, this.size, this.largest);
  }

  /** With nothing known any more of how much younger than others a clock can be. */
  baseless(clock: number): Zone {
    const bounds = this.bounds.slice();
    for (let older = 0; older < this.size; older++) {
      if (older !== clock) bounds[older * this.size + clock] = older === 0 ? 0 : FREE;
    }
    return new Zone(closed(bounds, this.size), this.size, this.largest);
  }

  /** The same with one clock older by some seconds. */
  shifted(clock: number, seconds: Seconds): Zone {
    const bounds = this.bounds.slice();
    for (let other = 0; other < this.size; other++) {
      if (other === clock) continue;
      bounds[clock * this.size + other] = this.bound(clock, other) + seconds;
      bounds[other * this.size + clock] = this.bound(other, clock) - seconds;
    }
    return new Zone(bounds, this.size, this.largest);
  }

  /** Whether all ages of another zone are among those of this one. */
  includes(other: Zone): boolean {
    for (let at = 0; at < this.bounds.length; at++) {
      if ((other.bounds[at] ?? FREE) > (this.bounds[at] ?? FREE)) return false;
    }
    return true;
  }
}

/** The shortest way round for every pair (Floyd and Warshall). */
function closed(bounds: number[], size: number): number[] {
  for (let via = 0; via < size; via++) {
    for (let i = 0; i < size; i++) {
      const first = bounds[i * size + via] ?? FREE;
      if (first === FREE) continue;
      for (let j = 0; j < size; j++) {
        const around = first + (bounds[via * size + j] ?? FREE);
        if (around < (bounds[i * size + j] ?? FREE)) bounds[i * size + j] = around;
      }
    }
  }
  return bounds;
}

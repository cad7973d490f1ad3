/** Random choices that a seed repeats (mulberry32). */
export class Random {
  private state: number;

  constructor(readonly seed: number) {
    this.state = seed >>> 0;
  }

  /** A number from 0 up to, and without, 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(this.state ^ (this.state >>> 15), this.state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  }

  below(limit: number): number {
    return Math.floor(this.next() * limit);
  }

  of<T>(items: readonly T[]): T {
    return items[this.below(items.length)] as T;
  }

  chance(of: number): boolean {
    return this.next() < of;
  }
}

import type { Seconds } from './duration.js';

declare const instant: unique symbol;
/** A point in time. It is kept and handed back, but only a clock can tell how long ago it was. */
export type Instant = number & { readonly [instant]: true };

/**
 * The only way in which app and browser learn about time, so that the same code can run at given instants and, where all
 * waits are to be covered at once, on bounds between instants.
 */
export interface Clock {
  readonly now: Instant;
  /** Whether it stands for any time at once: then pages are left at none that could be told, and brought back at any. */
  readonly isAnyTime?: true;
  /** Whether at least so many seconds have passed since an instant: true from the very second on. */
  elapsed(since: Instant, limit: Seconds): boolean;
}

/** An instant by its number: seconds from the start or, in a proof, which of the clocks of a zone counts from it. */
export function instantOf(number: number): Instant {
  return number as Instant;
}

/** The instant at which the virtual clock starts. */
export const BEGINNING = instantOf(0);

/** A clock that stands at a given number of seconds from the start. */
export class FixedClock implements Clock {
  readonly now: Instant;

  constructor(readonly seconds: Seconds) {
    this.now = instantOf(seconds);
  }

  elapsed(since: Instant, limit: Seconds): boolean {
    return this.seconds - since >= limit;
  }
}

/** A clock that stands some time after another. What happens now, by it, no time has passed since. */
export class LaterClock implements Clock {
  readonly now = instantOf(-1);

  constructor(
    private readonly clock: Clock,
    private readonly by: Seconds,
  ) {}

  elapsed(since: Instant, limit: Seconds): boolean {
    if (since === this.now) return limit <= 0;
    return limit <= this.by || this.clock.elapsed(since, limit - this.by);
  }
}

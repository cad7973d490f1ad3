import type { Seconds } from '../core/internal.js';

/** The time of a running stand-in, in whole seconds from its start. It can be moved on, never back. */
export class Time {
  private moved = 0;
  private readonly startedAt = performance.now();
  /** When it started, in seconds since 1970. */
  readonly epoch: Seconds = Math.floor(Date.now() / 1000);

  /** @param kind virtual: it stands still between moves; real: it runs */
  constructor(readonly kind: 'virtual' | 'real') {}

  now(): Seconds {
    const run = this.kind === 'real' ? Math.floor((performance.now() - this.startedAt) / 1000) : 0;
    return run + this.moved;
  }

  /** Moves on to an instant; one that is over already changes nothing. */
  moveTo(instant: Seconds): void {
    this.moved += Math.max(0, instant - this.now());
  }
}

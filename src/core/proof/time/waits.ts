// Step 1 of docs/proof-method.md: time.

import type { Seconds } from '../../time/duration.js';

/** The moment at which all starts, where a step is named: what was so before the first step counts from it. */
export const START = -1;

/** What had to be so of the time between two steps: at least so long, or at most. */
export interface Between {
  /** A step, or `START`. */
  readonly earlier: number;
  readonly later: number;
  readonly how: 'at-least' | 'at-most';
  readonly seconds: Seconds;
}

/**
 * The earliest seconds at which steps can be taken, one after another, so that all is as it had to be; null where it cannot
 * be. The first is taken at once, unless something has to be so since the start.
 */
export function earliest(steps: number, all: readonly Between[]): Seconds[] | null {
  const times = Array<Seconds>(steps).fill(0);
  // Bellman and Ford: each round moves steps to where the others push them; one that still moves after as many rounds as there
  // are steps is pushed by itself.
  for (let round = 0; round <= steps; round++) {
    const before = times.join();
    const push = (step: number, to: Seconds) => {
      times[step] = Math.max(times[step] ?? 0, to);
    };
    for (let step = 1; step < steps; step++) push(step, times[step - 1] ?? 0);
    for (const { earlier, later, how, seconds } of all) {
      if (how === 'at-least') push(later, (times[earlier] ?? 0) + seconds);
      else if (earlier !== START) push(earlier, (times[later] ?? 0) - seconds);
      else if ((times[later] ?? 0) > seconds) return null;
    }
    if (times.join() === before) return times;
  }
  return null;
}

// Step 2 of docs/proof-method.md: situations and moves.

import type { AppState } from '../../app/app.js';
import type { Instant } from '../../time/clock.js';
import type { Seconds } from '../../time/duration.js';
import type { Limits } from '../time/limits.js';
import type { Zone } from '../time/zone.js';

/** The attempts without failures that no longer count, and pauses that are over. */
export function attemptsLeft(
  { attempts }: AppState,
  { failure, paused }: Limits,
  zone: Zone,
  instant: (at: Instant, life: Seconds) => Instant,
): AppState['attempts'] {
  if (attempts.size === 0) return attempts;
  const kept = [...attempts]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([name, { failures, pausedAt }]) => {
      const recent = failures.filter((at) => zone.ages(at).least < failure);
      const pause = pausedAt !== null && zone.ages(pausedAt).least < paused ? pausedAt : null;
      if (recent.length === 0 && pause === null) return [];
      const left = {
        failures: recent.map((at) => instant(at, failure)),
        pausedAt: pause === null ? null : instant(pause, paused),
      };
      return [[name, left] as const];
    });
  return new Map(kept);
}

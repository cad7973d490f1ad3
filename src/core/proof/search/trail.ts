// Step 5 of docs/proof-method.md: cover and search.

import type { Seconds } from '../../time/duration.js';
import type { Move, Taken } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';
import { earliest, START, type Between } from '../time/waits.js';

/** A situation with the moves that lead to it, and what had to be so of the time between them. */
export interface Trail {
  readonly situation: Situation;
  /** The last move, and the situation that it was taken in; null where all starts. */
  readonly move: Move | null;
  readonly before: Trail | null;
  readonly depth: number;
  /** The move at which each clock of the situation was started, or `START`. */
  readonly startedAt: readonly number[];
  /** How old each clock was already then: only those that were there at the start are. */
  readonly aged: readonly Seconds[];
  readonly between: readonly Between[];
}

/** Moves, each with the second at which it is made. */
export interface Way {
  readonly moves: readonly Move[];
  readonly times: readonly Seconds[];
}

/**
 * A trail that starts in a situation.
 *
 * @param ages how old its clocks are, as far as they count from before; left out: none does
 */
export function trailFrom(situation: Situation, ages: readonly Seconds[] = []): Trail {
  const clocks = situation.zone.size - 1;
  const startedAt = Array.from({ length: clocks }, (_, at) => (at < ages.length ? START : 0));
  const aged = startedAt.map((_, at) => ages[at] ?? 0);
  return { situation, move: null, before: null, depth: 0, startedAt, aged, between: [] };
}

/**
 * A trail with a move more.
 *
 * @param next the situation that it leads to, and which clocks of the one before its clocks are, the last of which the move started
 */
export function followed(
  trail: Trail,
  move: Move,
  { answers }: Taken,
  next: { readonly situation: Situation; readonly clocks: readonly number[] },
): Trail {
  const { depth } = trail;
  const startedAt = [...trail.startedAt, depth];
  const started = (clock: number) => startedAt[clock - 1] ?? depth;
  const aged = (clock: number) => trail.aged[clock - 1] ?? 0;
  const between = answers.map(({ since, limit, isElapsed }): Between => ({
    earlier: started(since),
    later: depth,
    how: isElapsed ? 'at-least' : 'at-most',
    seconds: (isElapsed ? limit : limit - 1) - aged(since),
  }));
  return {
    situation: next.situation,
    move,
    before: trail,
    depth: depth + 1,
    startedAt: next.clocks.map(started),
    aged: next.clocks.map(aged),
    between,
  };
}

/** The moves of a trail at the earliest seconds at which they can be made; null where they cannot. */
export function wayOf(end: Trail, more: readonly Between[] = []): Way | null {
  const trails: Trail[] = [];
  for (let trail = end; trail.before !== null; trail = trail.before) {
    trails.unshift(trail);
  }
  const times = earliest(trails.length, [...trails.flatMap(({ between }) => between), ...more]);
  return times === null ? null : { moves: trails.flatMap(({ move }) => move ?? []), times };
}

/** All clocks of a situation, in their order. */
export function clocksOf({ zone }: Situation): number[] {
  return Array.from({ length: zone.size - 1 }, (_, at) => at + 1);
}

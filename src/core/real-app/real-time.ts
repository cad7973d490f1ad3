import type { Stage } from '../play/stage.js';
import type { Walk } from '../steps/walk.js';
import type { Seconds } from '../time/duration.js';
import { playWalk, type WalkResult } from '../walks/runner.js';
import { isPause } from '../steps/asking.js';
import { waitFor } from '../steps/wait.js';

/** The slack that a real wait is given, in seconds: requests take time, and no clock is read at the very second. */
const SLACKS = [-1, 0, 1];
/** By how much a wait may be changed so that a slack on both sides of it tells the same, the least first. */
const SHIFTS = [0, 1, -1, 2, -2];

/**
 * A walk whose waits are as far from every limit as real waiting needs: each wait is a second or two longer or shorter where it ends
 * at a limit, and the walk comes out as before. Null where there is no such walk: then its limits are too close to each other.
 */
export function slackened(stage: Stage, walk: Walk): WalkResult | null {
  const nominal = playWalk(stage, walk);
  const told = tellingOf(nominal);
  const holds = (lengths: readonly Seconds[]) =>
    tellingOf(playWalk(stage, withWaits(walk, lengths))) === told;
  let lengths = lengthsOf(nominal);
  for (const [index, length] of lengths.entries()) {
    if (length === 0) continue;
    const found = SHIFTS.flatMap((shift) => [
      lasting(lengths, index, shift),
      standing(lengths, index, shift),
    ]).find((shifted) => SLACKS.every((slack) => holds(shifted(slack))));
    if (found === undefined) return null;
    lengths = found(0);
  }
  return playWalk(stage, withWaits(walk, lengths));
}

type Shifted = (slack: Seconds) => Seconds[];

/** A wait made longer; what comes after it lasts as long as before. */
function lasting(lengths: readonly Seconds[], index: number, shift: Seconds): Shifted {
  return (slack) =>
    lengths.map((length, at) => (at === index ? Math.max(0, length + shift + slack) : length));
}

/** A wait made longer at the cost of the next one; what comes after that is at the time at which it was. */
function standing(lengths: readonly Seconds[], index: number, shift: Seconds): Shifted {
  const next = lengths.findIndex((length, at) => at > index && length > 0);
  return (slack) => {
    const by = shift + slack;
    return lengths.map((length, at) =>
      Math.max(0, at === index ? length + by : at === next ? length - by : length),
    );
  };
}

/** How long each step of a walk takes by the clock. */
function lengthsOf({ steps }: WalkResult): Seconds[] {
  return steps.map(({ time }, index) => time - (steps[index - 1]?.time ?? 0));
}

/** The same walk with waits of given lengths. */
export function withWaits(walk: Walk, lengths: readonly Seconds[]): Walk {
  const steps = walk.steps.map((step, index) => {
    const seconds = lengths[index] ?? 0;
    return isPause(step.action) ? { ...step, action: waitFor(seconds) } : step;
  });
  return { ...walk, steps };
}

/** All of a walk that can be seen, but for when. */
function tellingOf({ steps }: WalkResult): string {
  return JSON.stringify(
    steps.map(({ impossible, outcome: { lands, status, seenAs, via, refreshes, holds } }) =>
      impossible === null ? [lands, status, seenAs, via, refreshes, holds] : null,
    ),
  );
}

import type { Seconds } from '../language/duration.js';
import { NEW_BROWSER } from '../browser/state.js';
import type { Path } from '../language/yaml-text.js';
import { playSteps } from '../walks/runner.js';
import type { Stage } from '../walks/stage.js';
import { plainStep, type Step } from '../walks/walk.js';
import { lawOf, type Goal } from './goals.js';
import type { Move } from './moves.js';
import type { Way } from './trail.js';

/** How a goal can be missed: the shortest walk that does it and, of those, the one that waits least. */
export interface Counterexample {
  /** What is seen at its last step. */
  readonly seen: string;
  /** The place of the policy that allows it. */
  readonly allowedBy: Path;
  /** Its steps, waits among them. */
  readonly steps: readonly Step[];
  /** How many of them are no waits, and the time that it takes. */
  readonly moves: number;
  readonly seconds: Seconds;
}

/** A way as a walk with whole waits, played to see that it misses the goal; null where it does not. */
export function counterexample(stage: Stage, { moves, times }: Way, goal: Goal): Counterexample | null {
  const steps = stepsOf(moves, times);
  const seconds = times.at(-1) ?? 0;
  const played = playSteps(stage, steps).steps;
  if (played.length < steps.length) return null;
  const last = played.at(-1);
  const law = lawOf(goal);
  if (law === null) {
    const shown = last?.outcome.lands ?? 'nothing';
    const seen = `${reachText(goal)} cannot be reached from here as soon as that: this step leads to ${shown}`;
    return { seen, allowedBy: goal.promise?.at ?? [], steps, moves: moves.length, seconds };
  }
  // What only time brings is seen at the wait already, before the move that would show it.
  const at = played.findIndex(({ broken }) => broken.some((each) => each.law === law));
  const breach = played[at]?.broken.find((each) => each.law === law);
  if (breach === undefined || at < steps.length - 2) return null;
  const { seen, allowedBy } = breach;
  const shown = steps.slice(0, at + 1);
  return {
    seen,
    allowedBy,
    steps: shown,
    moves: shown.filter(({ action }) => action.verb !== 'wait').length,
    seconds,
  };
}

function reachText({ promise }: Goal): string {
  return promise?.reach.map(({ text }) => text).join(' or ') ?? '';
}

/** Moves as steps of a walk, with the waits between them; each browser speaks from an ordinary address unless a move says otherwise. */
export function stepsOf(moves: readonly Move[], times: readonly Seconds[]): Step[] {
  const elsewhere = new Set<string>();
  return moves.flatMap(({ browser, action, connectsFrom }, at) => {
    const wait = (times[at] ?? 0) - (times[at - 1] ?? 0);
    const until = { kind: 'duration', seconds: wait } as const;
    const back = elsewhere.delete(browser) ? NEW_BROWSER.client : null;
    if (connectsFrom !== undefined) elsewhere.add(browser);
    const step = { ...plainStep(browser, action), connectsFrom: connectsFrom ?? back };
    return wait > 0 ? [plainStep(browser, { verb: 'wait', until }), step] : [step];
  });
}

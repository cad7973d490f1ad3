// Step 5 of docs/proof-method.md: cover and search.

import type { Seconds } from '../../time/duration.js';
import { NEW_BROWSER } from '../../browser/state.js';
import type { Path } from '../../language/text/yaml-text.js';
import { playSteps } from '../../walks/runner.js';
import type { Breach, Sight } from '../../laws/law.js';
import { unkeptPromises } from '../../laws/promises.js';
import type { Stage } from '../../play/stage.js';
import { plainStep, type Step } from '../../steps/walk.js';
import { lawOf, missOf, type Goal } from './goals.js';
import type { Move } from '../situations/moves.js';
import type { Way } from './trail.js';
import { isPause, pauseSeconds } from '../../steps/asking.js';
import { waitFor } from '../../steps/wait.js';

/** How a goal can be missed: the shortest walk that does it and, of those, the one that waits least. */
export interface Counterexample {
  /** In which way it misses the goal. */
  readonly miss: string;
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

/**
 * A way as a walk with whole waits, played to see that it misses the goal; null where it does not.
 *
 * @param miss in which way it is to miss it; null for any
 */
export function counterexample(
  stage: Stage,
  { moves, times }: Way,
  goal: Goal,
  miss: string | null,
): Counterexample | null {
  return playedAgainst(stage, stepsOf(moves, times), goal, miss);
}

/** The same of a walk. That a page cannot be reached from its end as soon as was promised is taken as it is. */
export function playedAgainst(
  stage: Stage,
  steps: readonly Step[],
  goal: Goal,
  miss: string | null,
): Counterexample | null {
  const seconds = secondsOf(steps);
  const unkept: (Sight | null)[] = [];
  const played = playSteps(stage, steps, [], (view) => {
    const all = goal.promise === null ? [] : unkeptPromises(view);
    unkept.push(all.find(({ promise }) => promise === goal.promise)?.sight ?? null);
  }).steps;
  if (played.length < steps.length) return null;
  const last = played.at(-1);
  const law = lawOf(goal);
  if (law === null) {
    const shown = last?.outcome.lands ?? 'nothing';
    const seen = `${reachText(goal)} cannot be reached from here as soon as that: this step leads to ${shown}`;
    const allowedBy = goal.promise?.at ?? [];
    return { miss: goal.id, seen, allowedBy, steps, moves: movesOf(steps), seconds };
  }
  // What only time brings is seen at the wait already, before the move that would show it.
  const isIt = (each: Breach) =>
    each.law === law && (miss === null || missOf(each.law, each.weakness) === miss);
  const breaches = goal.promise === null ? played.map(({ broken }) => broken.find(isIt) ?? null) : unkept;
  const at = breaches.findIndex((breach) => breach !== null);
  const breach = breaches[at] ?? null;
  if (breach === null || at < steps.length - 2) return null;
  const { seen, allowedBy } = breach;
  const shown = steps.slice(0, at + 1);
  return {
    miss: miss ?? goal.id,
    seen,
    allowedBy,
    steps: shown,
    moves: movesOf(shown),
    seconds,
  };
}

function movesOf(steps: readonly Step[]): number {
  return steps.filter(({ action }) => !isPause(action)).length;
}

function secondsOf(steps: readonly Step[]): Seconds {
  return steps.reduce((sum, { action }) => sum + pauseSeconds(action), 0);
}

function reachText({ promise }: Goal): string {
  return promise?.reach.map(({ text }) => text).join(' or ') ?? '';
}

/** Moves as steps of a walk, with the waits between them; each browser speaks from an ordinary address unless a move says otherwise. */
export function stepsOf(moves: readonly Move[], times: readonly Seconds[]): Step[] {
  const elsewhere = new Set<string>();
  return moves.flatMap(({ browser, action, connectsFrom }, at) => {
    const wait = (times[at] ?? 0) - (times[at - 1] ?? 0);
    const back = elsewhere.delete(browser) ? NEW_BROWSER.client : null;
    if (connectsFrom !== undefined) elsewhere.add(browser);
    const step = { ...plainStep(browser, action), connectsFrom: connectsFrom ?? back };
    return wait > 0 ? [plainStep(browser, waitFor(wait)), step] : [step];
  });
}

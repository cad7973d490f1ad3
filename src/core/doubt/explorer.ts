import { initialState, type AppState } from '../app/app.js';
import { NEW_BROWSER, type BrowserState } from '../browser/state.js';
import { limitsOf } from '../overview/limits.js';
import type { Stage } from '../play/stage.js';
import { choicesOf } from '../proof/choices/choices.js';
import { PERSON } from '../proof/choices/cast.js';
import { castsOf } from '../proof/prove.js';
import type { Move } from '../proof/situations/moves.js';
import { receiverOf } from '../steps/asking.js';
import { NOTHING_EXPECTED, type Step } from '../steps/walk.js';
import type { Seconds } from '../time/duration.js';
import { playStep, type StepResult } from '../walks/runner.js';
import { waitFor } from '../steps/wait.js';

/** Steps that are played with both policies before it is given up: less than a second. */
const MOST_PLAYED = 800;
/** Longer walks nobody would read. */
const LONGEST = 6;

/** One policy in the middle of a walk. */
interface Side {
  readonly stage: Stage;
  readonly state: AppState;
  readonly browsers: ReadonlyMap<string, BrowserState>;
  readonly time: Seconds;
}

/** Two policies after the same steps, which came out alike. */
interface Pair {
  readonly sides: readonly [Side, Side];
  readonly steps: readonly Step[];
}

/** Looks for walks that come out otherwise with another policy, among all that the proof's own participants could do. */
export class Explorer {
  /** What each cast of the proof may do, worked out once: it takes longer than many steps. */
  private casts: readonly (readonly Step[])[] | null = null;

  constructor(private readonly one: Stage) {}

  /**
   * The shortest walk whose last step comes out otherwise with another policy; null where none was found within the bound. Every step that
   * the proof tries is tried at once and just before and past each limit of either policy; where neither app nor browsers are otherwise
   * after it, nothing further is tried from there.
   *
   * @param isAlike whether a step came out alike with both
   * @param most how many steps are played with both at most
   */
  apart(
    two: Stage,
    isAlike: (before: StepResult, after: StepResult) => boolean,
    most = MOST_PLAYED,
  ): readonly Step[] | null {
    this.casts ??= castsOf(this.one, null).map((cast) => choicesOf(this.one, cast).moves.map(stepOf));
    const waits = waitsOf(this.one, two);
    let best: readonly Step[] | null = null;
    let left = most;
    for (const [at, moves] of this.casts.entries()) {
      // What one cast leaves of its share the others may use.
      const share = Math.floor(left / (this.casts.length - at));
      const shorterThan = best?.length ?? LONGEST + 1;
      const { found, played } = exploredBy(this.one, two, [...moves, ...waits], isAlike, share, shorterThan);
      left -= played;
      best = found ?? best;
    }
    return best;
  }
}

function exploredBy(
  one: Stage,
  two: Stage,
  moves: readonly Step[],
  isAlike: (before: StepResult, after: StepResult) => boolean,
  most: number,
  shorterThan: number,
): { readonly found: readonly Step[] | null; readonly played: number } {
  const first: Pair = { sides: [start(one), start(two)], steps: [] };
  const met = new Set([keyOf(first)]);
  const queue = [first];
  let played = 0;
  for (const pair of queue) {
    if (pair.steps.length + 1 >= shorterThan) break;
    for (const step of moves) {
      if (played >= most) return { found: null, played };
      played += 1;
      const [before, after] = pair.sides.map((side) => take(side, step)) as [Taken, Taken];
      if (before.result.impossible !== null) continue;
      const steps = [...pair.steps, step];
      if (!isAlike(before.result, after.result)) return { found: steps, played };
      const next: Pair = { sides: [before.side, after.side], steps };
      const key = keyOf(next);
      if (met.has(key)) continue;
      met.add(key);
      queue.push(next);
    }
  }
  return { found: null, played };
}

interface Taken {
  readonly side: Side;
  readonly result: StepResult;
}

function start(stage: Stage): Side {
  return { stage, state: initialState(stage.app.policy), browsers: new Map(), time: 0 };
}

function take({ stage, state, browsers, time }: Side, step: Step): Taken {
  const receiver = receiverOf(step.action);
  const other = browsers.get(receiver ?? '') ?? NEW_BROWSER;
  const result = playStep(stage, state, browsers.get(step.browser) ?? NEW_BROWSER, step, time, other);
  const after = new Map(browsers).set(step.browser, result.played.browser);
  if (receiver !== null && result.given !== null) after.set(receiver, result.given);
  return { side: { stage, state: result.played.state, browsers: after, time: result.time }, result };
}

/** What further steps depend on; where a browser has been before is no part of it. */
function keyOf({ sides }: Pair): string {
  return JSON.stringify(
    sides.map(({ state, browsers, time }) => [state, [...browsers], time]),
    (name, value: unknown) => {
      if (name === 'page' || name === 'history') return undefined;
      if (value instanceof Map) return [...value];
      if (value instanceof Set) return [...value].map(String).sort();
      return typeof value === 'bigint' ? String(value) : value;
    },
  );
}

/** A step that may come out as it likes. */
const PLAIN: Omit<Step, 'action'> = {
  at: [],
  browser: PERSON,
  connectsFrom: null,
  named: null,
  expects: NOTHING_EXPECTED,
  expectBroken: [],
};

function stepOf({ browser, action, connectsFrom }: Move): Step {
  return { ...PLAIN, action, browser, connectsFrom: connectsFrom ?? null };
}

/** Waits to just before and just past every limit of either policy. */
function waitsOf(one: Stage, two: Stage): Step[] {
  const limits = [one, two].flatMap(({ app }) =>
    limitsOf(app.policy).flatMap(({ seconds }) => seconds ?? []),
  );
  const all = new Set(limits.flatMap((seconds) => [seconds - 1, seconds]).filter((seconds) => seconds > 0));
  return [...all].sort((a, b) => a - b).map((seconds) => ({ ...PLAIN, action: waitFor(seconds) }));
}

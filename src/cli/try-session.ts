import {
  expectingWhatCame,
  initialState,
  nearest,
  NEW_BROWSER,
  readTyped,
  receiverOf,
  stageOf,
  TYPED,
  tryFurther,
  tryOut,
  type AppState,
  type BrowserState,
  type Diagnostic,
  type LoginState,
  type Seconds,
  type Stage,
  type Step,
  type Trial,
  type WrittenStep,
  type YamlText,
} from '../core/internal.js';
import type { Usable } from './project.js';

/** What stands behind a prompt: a policy, and the steps that were tried with it so far. */
export interface Tried {
  readonly stage: Stage;
  readonly input: YamlText;
  readonly written: readonly WrittenStep[];
  readonly trial: Trial;
}

/** Why something that was typed is not done, and what to type instead. */
export interface Wrong {
  readonly wrong: string;
  readonly hint: string;
}

/** The beginning: a policy that can be used, and no step yet. */
export function nothingTried({ policy, input }: Usable): Tried {
  const stage = stageOf(policy);
  const trial = tryOut(stage, []);
  if ('faults' in trial) throw new Error('no step cannot be wrong');
  return { stage, input, written: [], trial };
}

/** The same with one more step, as it was typed. */
export function withTyped(tried: Tried, line: string): Tried | Wrong {
  const typed = readTyped(line);
  if (typed.step === null) {
    if (typed.usage !== null) return { wrong: `${typed.word} is not typed so`, hint: `type ${typed.usage}` };
    const near = nearest(typed.word, [...TYPED.keys()]);
    return {
      wrong: `${typed.word} is no step`,
      hint:
        near === null ? 'help shows what can be typed' : `did you mean ${near}? help shows what can be typed`,
    };
  }
  const trial = tryFurther(tried.stage, tried.trial, typed.step);
  if ('faults' in trial) return wrongOf(trial.faults);
  const after = { ...tried, written: [...tried.written, typed.step], trial };
  const impossible = trial.results.at(-1)?.impossible ?? null;
  if (impossible !== null) {
    return { wrong: `this cannot be played: ${impossible}`, hint: stuckHint(tried) };
  }
  return after;
}

/** After a change of the policy it may be a step before that cannot be played any more. */
function stuckHint({ written, trial }: Tried): string {
  const isStuck = (trial.results.at(-1)?.impossible ?? null) !== null;
  return isStuck
    ? `that is step ${trial.results.length} of ${written.length}, tried before the policy was changed: undo leads back before it`
    : 'it is left out; state shows where everybody is';
}

/** The same with other steps, or with those that it has under another policy. */
export function withSteps(
  { stage, input }: Pick<Tried, 'stage' | 'input'>,
  written: readonly WrittenStep[],
): Tried | Wrong {
  const trial = tryOut(stage, written);
  if (!('faults' in trial)) return { stage, input, written, trial };
  return wrongOf(trial.faults);
}

function wrongOf([first]: readonly Diagnostic[]): Wrong {
  return {
    wrong: first?.message ?? 'this cannot be read',
    hint: first?.hint ?? 'help shows what can be typed',
  };
}

/** The steps as a walk has them that expects what came out. */
export function asExpected({ trial }: Tried): Step[] {
  return trial.results.filter(({ impossible }) => impossible === null).map(expectingWhatCame);
}

/** Somebody's browser as it is now. */
export interface BrowserNow {
  readonly name: string;
  readonly browser: BrowserState;
  /** The account that the app took its visitor for at last; null for a guest. */
  readonly account: string | null;
}

/** The browsers that took part, the one without a name first. */
export function browsersOf({ trial }: Tried): BrowserNow[] {
  const found = new Map<string, BrowserNow>();
  const put = (name: string, browser: BrowserState, account: string | null) =>
    found.set(name, { name, browser, account });
  put('browser', NEW_BROWSER, null);
  for (const { step, played, outcome, given } of trial.results) {
    const { seenAs } = outcome;
    const before = found.get(step.browser)?.account ?? null;
    put(step.browser, played.browser, seenAs === null ? before : seenAs === 'guest' ? null : seenAs);
    const receiver = receiverOf(step.action);
    if (receiver !== null && given !== null) put(receiver, given, found.get(receiver)?.account ?? null);
  }
  return [...found.values()];
}

/** Somebody in front of their browser now, as an explanation of their requests takes them. */
export function visitorIn(tried: Tried, name: string): LoginState | null {
  const now = browsersOf(tried).find((each) => each.name === name);
  if (now === undefined) return null;
  const { state, time } = nowOf(tried);
  return { account: now.account, condition: null, state, browser: now.browser, time };
}

/** The app and the clock as they are now. */
export function nowOf({ stage, trial }: Tried): { readonly state: AppState; readonly time: Seconds } {
  const last = trial.results.at(-1);
  return last === undefined
    ? { state: initialState(stage.app.policy), time: 0 }
    : { state: last.played.state, time: last.time };
}

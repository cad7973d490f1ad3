import { initialState, type AppState } from '../app/app.js';
import { NEW_BROWSER, type BrowserState, type Deed } from '../browser/state.js';
import { FixedClock } from '../clock.js';
import type { Seconds } from '../language/duration.js';
import { deadlineOf } from './deadlines.js';
import { compare, type Difference } from './expectations.js';
import { outcomeOf, type Outcome } from './outcome.js';
import type { Action, Step, Wait, Walk } from './walk.js';
import { play, type Played, type Stage } from './stage.js';

/** What came of one step. */
export interface StepResult {
  readonly step: Step;
  /** The time on the virtual clock after it, in seconds from the start of the walk. */
  readonly time: Seconds;
  readonly played: Played;
  readonly outcome: Outcome;
  readonly differences: readonly Difference[];
  /** Why the step could not be played; the walk ends there. */
  readonly impossible: string | null;
}

/** What came of a walk. */
export interface WalkResult {
  readonly walk: Walk;
  readonly steps: readonly StepResult[];
  readonly passed: boolean;
}

/** Plays a walk from a fresh start: nobody signed in, every browser new, the clock at zero. */
export function playWalk(stage: Stage, walk: Walk): WalkResult {
  const steps: StepResult[] = [];
  const browsers = new Map<string, BrowserState>();
  let state = initialState(stage.app.policy);
  let time = 0;
  let passed = true;
  for (const step of walk.steps) {
    const result = playStep(stage, state, browsers.get(step.browser) ?? NEW_BROWSER, step, time);
    steps.push(result);
    passed &&= result.impossible === null && result.differences.length === 0;
    if (result.impossible !== null) break;
    ({ time } = result);
    ({ state } = result.played);
    browsers.set(step.browser, result.played.browser);
  }
  return { walk, steps, passed };
}

/**
 * Plays one step. The result depends on nothing but the arguments, and none of them is changed: no other browser takes
 * part in it.
 *
 * @param time seconds from the start of the walk
 */
export function playStep(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  step: Step,
  time: Seconds,
): StepResult {
  const { action } = step;
  if (action.verb === 'wait') {
    const until = waitUntil(stage, state, browser, action.until, time);
    if (typeof until === 'string') return finish(stage, step, time, atRest(state, browser), until);
    return finish(stage, step, until, atRest(state, browser), null);
  }
  const deed = deedOf(stage, action);
  if (deed.deed === 'reload' && browser.tab.page === null) {
    return finish(
      stage,
      step,
      time,
      atRest(state, browser),
      'this browser shows no page yet that could be reloaded',
    );
  }
  return finish(stage, step, time, play(stage, state, browser, deed, new FixedClock(time)), null);
}

function finish(
  stage: Stage,
  step: Step,
  time: Seconds,
  played: Played,
  impossible: string | null,
): StepResult {
  const outcome = outcomeOf(stage, played, new FixedClock(time));
  const differences = impossible === null ? compare(step.expects, outcome) : [];
  return { step, time, played, outcome, differences, impossible };
}

function atRest(state: AppState, browser: BrowserState): Played {
  return { state, browser, exchanges: [], cutShort: null, refusedCookies: [] };
}

/** What a step makes a person do: a form is sent from a page, a call is made by its script. */
function deedOf(stage: Stage, action: Exclude<Action, { verb: 'wait' }>): Deed {
  switch (action.verb) {
    case 'visit':
      return { deed: 'open', address: action.address };
    case 'reload':
      return { deed: 'reload' };
    case 'login':
      return { deed: 'log-in', account: action.account, password: action.password };
    case 'logout':
      return { deed: 'log-out' };
    case 'send': {
      const [path = ''] = action.address.split('?', 1);
      const byScript = stage.app.router.find(path)?.kind === 'api';
      return { deed: byScript ? 'call' : 'submit', method: action.method, address: action.address };
    }
  }
}

/** The second at which a wait ends, or why there is nothing to wait for. */
function waitUntil(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  until: Wait,
  time: Seconds,
): Seconds | string {
  if (until.kind === 'duration') return time + until.seconds;
  const deadline = deadlineOf(stage, state, browser, until.deadline, time);
  if (deadline === null) return `this browser holds nothing for which ${until.deadline} could come`;
  if (until.kind === 'past') return Math.max(time, deadline);
  return deadline > time ? deadline - 1 : `${until.deadline} is over already`;
}

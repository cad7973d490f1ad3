import { initialState, type AppState } from '../app/app.js';
import { administer, isAdministration } from '../app/administration.js';
import { NEW_BROWSER, type BrowserState } from '../browser/state.js';
import { FixedClock } from '../clock.js';
import type { Seconds } from '../language/duration.js';
import { sampleAddress } from '../paths/coverage.js';
import { breachesOf } from '../laws/all-laws.js';
import type { Breach, View } from '../laws/law.js';
import { lawBookOf } from '../laws/law-book.js';
import { NOTHING_YET, remembering, type Memory } from '../laws/memory.js';
import { deadlineOf } from './deadlines.js';
import { deedOf, rightCode } from './deeds.js';
import { compare, type Difference } from './expectations.js';
import { outcomeOf, type Outcome } from './outcome.js';
import type { Step, Wait, Walk } from './walk.js';
import { copied } from './holdings.js';
import { playTogether } from './together.js';
import { play, requestDeed, type Played, type Stage } from './stage.js';

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
  /** The browser that got a copy of something, as it is now; null where none did. */
  readonly given: BrowserState | null;
  /** The laws that it breaks without the walk saying so. */
  readonly broken: readonly Breach[];
}

/** What came of a walk. */
export interface WalkResult {
  readonly walk: Walk;
  readonly steps: readonly StepResult[];
  readonly passed: boolean;
}

/** Plays a walk from a fresh start: nobody signed in, every browser new, the clock at zero. */
export function playWalk(stage: Stage, walk: Walk): WalkResult {
  return { walk, ...playSteps(stage, walk.steps) };
}

/** Plays steps from a fresh start. */
export function playSteps(stage: Stage, all: readonly Step[]): Omit<WalkResult, 'walk'> {
  const steps: StepResult[] = [];
  const browsers = new Map<string, BrowserState>();
  let state = initialState(stage.app.policy);
  let time = 0;
  let passed = true;
  let memory = NOTHING_YET;
  const advice = new Set<string>();
  for (const step of all) {
    const { action } = step;
    const other = action.verb === 'copy' ? (browsers.get(action.to) ?? NEW_BROWSER) : NEW_BROWSER;
    const from = browsers.get(step.browser) ?? NEW_BROWSER;
    const played = playStep(stage, state, from, step, time, other);
    const view = viewOf(stage, played, state, from, memory);
    const result = judged(played, withoutToldAdvice(breachesOf(view), advice));
    memory = remembering(view);
    steps.push(result);
    passed &&= isSound(result);
    if (result.impossible !== null) break;
    ({ time } = result);
    ({ state } = result.played);
    browsers.set(step.browser, result.played.browser);
    if (action.verb === 'copy' && result.given !== null) browsers.set(action.to, result.given);
  }
  return { steps, passed };
}

/** Breaches without the advice that the walk was given before: it stays as true at every step. */
function withoutToldAdvice(breaches: readonly Breach[], told: Set<string>): readonly Breach[] {
  if (breaches.length === 0) return breaches;
  const fresh = breaches.filter(({ weight, seen }) => weight === 'law' || !told.has(seen));
  for (const { weight, seen } of breaches) if (weight === 'advice') told.add(seen);
  return fresh;
}

/** Whether a step was possible, came out as expected and broke no law; what is only advice does not count. */
function isSound({ impossible, differences, broken }: StepResult): boolean {
  return impossible === null && differences.length === 0 && broken.every(({ weight }) => weight === 'advice');
}

/** A step with the laws that it breaks; those that the walk knows of are expected, and must be broken then. */
function judged(result: StepResult, breaches: readonly Breach[]): StepResult {
  const { expectBroken } = result.step;
  if (expectBroken.length === 0 || result.impossible !== null) {
    return breaches.length === 0 ? result : { ...result, broken: breaches };
  }
  const known = new Set<string>(expectBroken);
  const held = expectBroken.filter((law) => !breaches.some((breach) => breach.law === law));
  const differences = held.map((expected) => ({ key: 'expect-broken', expected, actual: 'held' }) as const);
  return {
    ...result,
    broken: breaches.filter((breach) => !known.has(breach.law)),
    differences: [...result.differences, ...differences],
  };
}

function viewOf(
  stage: Stage,
  { step, played, outcome, time }: StepResult,
  before: AppState,
  from: BrowserState,
  memory: Memory,
): View {
  return {
    stage,
    book: lawBookOf(stage),
    action: step.action,
    browser: step.browser,
    before,
    from,
    played,
    outcome,
    clock: new FixedClock(time),
    memory,
  };
}

/**
 * Plays one step. The result depends on nothing but the arguments, and none of them is changed: no other browser takes
 * part in it, but for the one that gets a copy.
 *
 * @param time seconds from the start of the walk
 * @param other the browser that a credential is copied to
 */
export function playStep(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  step: Step,
  time: Seconds,
  other: BrowserState = NEW_BROWSER,
): StepResult {
  const { action } = step;
  const from = step.connectsFrom === null ? browser : { ...browser, client: step.connectsFrom };
  const clock = new FixedClock(time);
  if (action.verb === 'wait') {
    const until = waitUntil(stage, state, from, action.until, time);
    if (typeof until === 'string') return finish(stage, step, time, atRest(state, from), until);
    return finish(stage, step, until, atRest(state, from), null);
  }
  if (action.verb === 'copy') {
    const given = copied(stage, from, other, action.what, clock);
    const none = given === null ? `this browser holds no ${action.what} to copy` : null;
    return { ...finish(stage, step, time, atRest(state, from), none), given };
  }
  if (action.verb === 'together') {
    const needsTwo = action.calls.some(({ tab }) => tab === 'behind');
    if (needsTwo && from.behind.length === 0) {
      return finish(stage, step, time, atRest(state, from), 'there is no tab behind: new-tab opens one');
    }
    return finish(stage, step, time, playTogether(stage, state, from, action.calls, clock), null);
  }
  if (isAdministration(action)) {
    const after = administer(stage.app.policy, state, action);
    return finish(stage, step, time, atRest(after, from), null);
  }
  if (action.verb === 'code' && action.given === 'late') {
    const expiry = deadlineOf(stage, state, from, 'code-expiry', time);
    if (expiry === null) {
      return finish(stage, step, time, atRest(state, from), 'no code was sent to this visitor');
    }
    const late = Math.max(time, expiry);
    const deed = rightCode();
    return finish(stage, step, late, play(stage, state, from, deed, new FixedClock(late)), null);
  }
  const deed = deedOf(stage, state, from, action);
  if (typeof deed === 'string') return finish(stage, step, time, atRest(state, from), deed);
  return finish(stage, step, time, play(stage, state, from, deed, clock), null);
}

const NONE: readonly Breach[] = [];

function finish(
  stage: Stage,
  step: Step,
  time: Seconds,
  played: Played,
  impossible: string | null,
): StepResult {
  const outcome = outcomeOf(stage, played, new FixedClock(time));
  const reached = () => reachedPages(stage, played, time);
  const differences = impossible === null ? compare(step.expects, outcome, reached) : [];
  return { step, time, played, outcome, differences, impossible, given: null, broken: NONE };
}

/** The paths of all pages that a browser would be shown now. */
function reachedPages(stage: Stage, { state, browser }: Played, time: Seconds): string[] {
  return stage.app.policy.pages.flatMap((page) => {
    const address = sampleAddress(page.pattern, () => 'x');
    const { browser: after, exchanges } = play(
      stage,
      state,
      browser,
      requestDeed(stage, 'GET', address),
      new FixedClock(time),
    );
    const shown = after.tab.page;
    const byCall = exchanges.at(-1)?.purpose === 'call' && (exchanges.at(-1)?.response.status ?? 500) < 300;
    const open = shown !== null && shown.status < 300 && shown.address.path === address;
    return byCall || open ? [page.pattern.text] : [];
  });
}

function atRest(state: AppState, browser: BrowserState): Played {
  return { state, browser, exchanges: [], cutShort: null, refusedCookies: [], refusedByScript: null };
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

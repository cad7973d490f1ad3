import { initialState, type AppState } from '../app/app.js';
import { ownAddress } from '../app/classes.js';
import { NEW_BROWSER, type BrowserState } from '../browser/state.js';
import { FixedClock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import { sampleAddress } from '../paths/coverage.js';
import { breachesOf } from '../laws/all-laws.js';
import type { Breach, View } from '../laws/law.js';
import { lawBookOf } from '../laws/law-book.js';
import type { LawName } from '../vocabulary/law-names.js';
import { NOTHING_YET, type Memory } from '../laws/memory.js';
import { remembering } from '../laws/remembering.js';
import { compare, type Difference } from './expectations.js';
import { outcomeOf, type Outcome } from '../steps/outcome.js';
import { unsaid } from './said.js';
import { stepKind } from '../steps/all-steps.js';
import { receiverOf } from '../steps/asking.js';
import { atRest } from '../steps/step-kind.js';
import type { Step, Walk } from '../steps/walk.js';
import { play, requestDeed, type Played, type Stage } from '../play/stage.js';

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
  return { walk, ...playSteps(stage, walk.steps, walk.expectBroken) };
}

/**
 * Plays steps from a fresh start.
 *
 * @param expectBroken the laws that they are known to break, at whatever step
 * @param look is shown each step as laws look at it
 */
export function playSteps(
  stage: Stage,
  all: readonly Step[],
  expectBroken: readonly LawName[] = NO_LAWS,
  look?: (view: View) => void,
): Omit<WalkResult, 'walk'> {
  const played: StepResult[] = [];
  let course: Course | null = startOf(stage);
  for (const step of all) {
    if (course === null) break;
    const taken = takeStep(stage, course, step, look);
    played.push(taken.result);
    course = taken.course;
  }
  const steps = judged(played, expectBroken);
  return { steps, passed: steps.every(isSound) };
}

/** Where the steps of a walk have led to. */
export interface Course {
  readonly browsers: ReadonlyMap<string, BrowserState>;
  readonly state: AppState;
  readonly time: Seconds;
  readonly memory: Memory;
}

/** A fresh start: nobody signed in, every browser new, the clock at zero. */
export function startOf({ app }: Stage): Course {
  return { browsers: new Map(), state: initialState(app.policy), time: 0, memory: NOTHING_YET };
}

/** Plays the next step of a walk; with every law that it breaks, and where it leads to: null where it cannot be played. */
export function takeStep(
  stage: Stage,
  { browsers, state, time, memory }: Course,
  step: Step,
  look?: (view: View) => void,
): { readonly result: StepResult; readonly course: Course | null } {
  const receiver = receiverOf(step.action);
  const other = browsers.get(receiver ?? '') ?? NEW_BROWSER;
  const from = browsers.get(step.browser) ?? NEW_BROWSER;
  const plain = playStep(stage, state, from, step, time, other);
  const view = viewOf(stage, plain, state, from, memory);
  look?.(view);
  const breaches = breachesOf(view);
  const result = breaches.length === 0 ? plain : { ...plain, broken: breaches };
  const remembered = remembering(view);
  if (result.impossible !== null) return { result, course: null };
  const after = new Map(browsers).set(step.browser, result.played.browser);
  if (receiver !== null && result.given !== null) after.set(receiver, result.given);
  const course = { browsers: after, state: result.played.state, time: result.time, memory: remembered };
  return { result, course };
}

/** Whether a step was possible, came out as expected and broke no law; what is only advice does not count. */
function isSound({ impossible, differences, broken }: StepResult): boolean {
  return impossible === null && differences.length === 0 && broken.every(({ weight }) => weight === 'advice');
}

/**
 * Steps with the laws that they break and the walk does not know of. A weakness that stands through a walk is told once, at the
 * first step that shows it; where one step, or the walk, says that it is known, it is at all of them. What is said to be known
 * must be so.
 */
export function judged(
  played: readonly StepResult[],
  expectBroken: readonly LawName[] = NO_LAWS,
): readonly StepResult[] {
  const isAsked = expectBroken.length > 0 || played.some(({ step }) => step.expectBroken.length > 0);
  if (!isAsked && played.every(({ broken }) => broken.length === 0)) return played;
  const nameOf = ({ law, weakness }: Breach) => `${law} ${weakness}`;
  const told = new Set(
    played.flatMap(({ step, broken }) =>
      broken
        .filter(({ law }) => step.expectBroken.some((known) => known === law) || expectBroken.includes(law))
        .map(nameOf),
    ),
  );
  const steps = played.map((result) => {
    const { step, broken, impossible, differences } = result;
    const fresh = broken.filter((breach) => !told.has(nameOf(breach)));
    for (const breach of fresh) told.add(nameOf(breach));
    const held = impossible === null ? heldOf(step.expectBroken, broken) : NO_DIFFERENCES;
    if (fresh.length === broken.length && held.length === 0) return result;
    return { ...result, broken: fresh, differences: [...differences, ...held] };
  });
  const last = steps.at(-1);
  const held = heldOf(
    expectBroken,
    played.flatMap(({ broken }) => broken),
  );
  if (held.length === 0 || last === undefined || last.impossible !== null) return steps;
  return [...steps.slice(0, -1), { ...last, differences: [...last.differences, ...held] }];
}

/** The laws that are expected to be broken and were not. */
function heldOf(expected: readonly LawName[], broken: readonly Breach[]): Difference[] {
  return expected
    .filter((law) => !broken.some((breach) => breach.law === law))
    .map((law) => ({ key: 'expect-broken', expected: law, actual: 'held' }));
}

const NO_DIFFERENCES: readonly Difference[] = [];
const NO_LAWS: readonly LawName[] = [];

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
  const kind = stepKind(action);
  const now = { state, browser: from, other, clock: new FixedClock(time) };
  const at = kind.startsAt?.(stage, now, action, time) ?? time;
  if (typeof at === 'string') return finish(stage, step, time, atRest(state, from), at);
  const clock = at === time ? now.clock : new FixedClock(at);
  const came = kind.play(stage, { ...now, clock }, action);
  if (typeof came === 'string') return finish(stage, step, time, atRest(state, from), came);
  const { played, given } = came;
  const result = finish(stage, step, at, played, null, given);
  const said = kind.unsaid?.({ stage, before: state, from, played, clock }, action) ?? null;
  const wrong = said === null ? null : unsaid(said, step, result.outcome);
  return wrong === null ? result : { ...result, differences: [...result.differences, wrong] };
}

const NONE: readonly Breach[] = [];

function finish(
  stage: Stage,
  step: Step,
  time: Seconds,
  played: Played,
  impossible: string | null,
  given: BrowserState | null = null,
): StepResult {
  const outcome = outcomeOf(stage, played, new FixedClock(time));
  const reached = () => reachedPages(stage, played, time);
  const differences = impossible === null ? compare(step.expects, outcome, reached) : [];
  return { step, time, played, outcome, differences, impossible, given, broken: NONE };
}

/** The paths of all pages that a browser would be shown now. */
export function reachedPages(
  stage: Stage,
  { state, browser }: Pick<Played, 'state' | 'browser'>,
  time: Seconds,
): string[] {
  const clock = new FixedClock(time);
  const tryAt = (address: string) => {
    const deed = requestDeed(stage, 'GET', address);
    const { browser: after, exchanges } = play(stage, state, browser, deed, clock);
    const shown = after.tab.page;
    const byCall = exchanges.at(-1)?.purpose === 'call' && (exchanges.at(-1)?.response.status ?? 500) < 300;
    const open = shown !== null && shown.status < 300 && shown.address.path === address;
    return { isOpen: byCall || open, visitor: exchanges[0]?.visitor ?? null };
  };
  return stage.app.policy.pages.flatMap(({ pattern }) => {
    const any = sampleAddress(pattern, () => 'x');
    const { isOpen, visitor } = tryAt(any);
    // A page of a tenant is open where that of the visitor's own is.
    if (isOpen || visitor === null) return isOpen ? [pattern.text] : [];
    const own = ownAddress(stage.app.router, pattern, { ...visitor, account: 'x' });
    return own !== any && tryAt(own).isOpen ? [pattern.text] : [];
  });
}

import { entering } from '../coverage/scenarios/scenario.js';
import { peopleOf, scenariosOf } from '../coverage/scenarios/scenarios.js';
import { hostOf } from '../http/address.js';
import { SOME_CLIENT } from '../http/client-address.js';
import type { LawName } from '../vocabulary/law-names.js';
import type { Stage } from '../play/stage.js';
import { readTyped, type WrittenStep } from '../steps/typed.js';
import type { Step } from '../steps/walk.js';
import { compare } from '../walks/expectations.js';
import { playSteps, type StepResult } from '../walks/runner.js';
import { expectingWhatCame, readSteps } from '../walks/trial.js';
import { Explorer } from './explorer.js';
import type { DecidedOtherwise } from './same-decisions.js';
import type { TellingWalk } from './telling-walk.js';
import { isPause, pauseSeconds } from '../steps/asking.js';
import { waitFor } from '../steps/wait.js';

/** Steps as they come out with one policy. */
interface Known {
  readonly steps: readonly Step[];
  readonly results: readonly StepResult[];
}

/** More requests than these are not made one by one. */
const MOST_REQUESTS = 12;

/** What people may do, as it comes out with one policy: to find what comes out otherwise with another. */
export class TellingApart {
  private readonly known: readonly Known[];
  private readonly explorer: Explorer;

  constructor(private readonly stage: Stage) {
    this.explorer = new Explorer(stage);
    this.known = scenariosOf(stage).flatMap(({ lines }) => this.played(lines) ?? []);
  }

  /** What is typed, as it comes out up to what cannot be played; null where nothing can. */
  private played(lines: readonly string[]): Known | null {
    const written = lines.flatMap((line): WrittenStep[] => {
      const { step } = readTyped(line);
      return step === null ? [] : [step];
    });
    const walk = readSteps(this.stage.app.policy, written);
    if ('faults' in walk || written.length < lines.length) return null;
    const playable = playSteps(this.stage, walk.steps).steps.filter(({ impossible }) => impossible === null);
    const steps = onTheClock(playable);
    return steps.length === 0 ? null : { steps, results: playSteps(this.stage, steps).steps };
  }

  /** Requests that are decided otherwise, made by everybody. */
  private asking(requests: readonly DecidedOtherwise[]): Known[] {
    const { policy } = this.stage.app;
    const own = hostOf(policy.origin);
    const scheme = policy.origin.slice(0, policy.origin.indexOf('//') + 2);
    return requests.slice(0, MOST_REQUESTS).flatMap(({ method, path, host, client }) => {
      const address = host === own ? path : `${scheme}${host}${path}`;
      const asks = method === 'GET' ? `visit ${address}` : `send ${method} ${address}`;
      const line = client === SOME_CLIENT ? asks : `${asks}, connected from ${client}`;
      return [null, ...peopleOf(policy)].flatMap(
        (person) => this.played([...(person === null ? [] : entering(policy, person)), line]) ?? [],
      );
    });
  }

  /**
   * The shortest walk that comes out otherwise with another policy, and whether that breaks a law or a promise anew.
   *
   * @param requests those that the two are known to decide otherwise
   */
  from(
    other: Stage,
    requests: readonly DecidedOtherwise[],
  ): { readonly walk: TellingWalk | null; readonly breaksLaw: boolean } {
    let best: readonly Step[] | null = null;
    let breaksLaw = false;
    for (const { steps, results } of [...this.known, ...this.asking(requests)]) {
      const played = playSteps(other, steps).steps;
      if (!breaksLaw && lawsOf(played).some((law) => !lawsOf(results).includes(law))) breaksLaw = true;
      const at = results.findIndex((before, index) => !isAlike(before, played[index]));
      if (at >= 0 && played[at] !== undefined && (best === null || at + 1 < best.length)) {
        best = steps.slice(0, at + 1);
      }
    }
    // What no scenario shows may show in what the proof would try.
    const found = best ?? this.explorer.apart(other, isAlike);
    if (found === null) return { walk: null, breaksLaw };
    const steps = this.shortened(found, other);
    const [one, two] = [playSteps(this.stage, steps).steps, playSteps(other, steps).steps];
    breaksLaw ||= lawsOf(two).some((law) => !lawsOf(one).includes(law));
    const [before, after] = [one.at(-1), two.at(-1)];
    if (before === undefined || after === undefined) return { walk: null, breaksLaw };
    const expected = [...one.slice(0, -1).map(expectingWhatCame), expectingTheDifference(before, after)];
    return {
      walk: { steps: expected, before: cameTo(before, after), after: cameTo(after, before) },
      breaksLaw,
    };
  }

  /** The same without the steps that it does not need, as long as its last comes out otherwise. */
  private shortened(all: readonly Step[], other: Stage): readonly Step[] {
    const steps = withWaitsJoined(all);
    let kept = steps;
    for (let at = steps.length - 2; at >= 0; at--) {
      const fewer = withWaitsJoined(kept.filter((_, index) => index !== at));
      const [one, two] = [playSteps(this.stage, fewer).steps, playSteps(other, fewer).steps];
      const isPlayed = one.length === fewer.length && one.every(({ impossible }) => impossible === null);
      const last = one.at(-1);
      if (isPlayed && last !== undefined && !isAlike(last, two[fewer.length - 1])) kept = fewer;
    }
    return kept;
  }
}

/** Steps in which one wait after another is one. */
function withWaitsJoined(steps: readonly Step[]): Step[] {
  return steps.reduce<Step[]>((joined, step) => {
    const before = joined.at(-1)?.action;
    const { action } = step;
    if (before === undefined || !isPause(before) || !isPause(action)) return [...joined, step];
    const seconds = pauseSeconds(before) + pauseSeconds(action);
    return [...joined.slice(0, -1), { ...step, action: waitFor(seconds) }];
  }, []);
}

/** Steps whose waits are as long as they were: a wait up to a deadline would move with it. */
function onTheClock(results: readonly StepResult[]): Step[] {
  return results.map(({ step, time }, at) => {
    if (!isPause(step.action)) return step;
    const seconds = time - (results[at - 1]?.time ?? 0);
    return { ...step, action: waitFor(seconds) };
  });
}

/** Whether a walk can see no difference. */
function isAlike(before: StepResult, after: StepResult | undefined): boolean {
  if (after === undefined || after.impossible !== null) return before.impossible !== null;
  const { outcome: one } = before;
  const { outcome: two } = after;
  const same = (a: readonly string[], b: readonly string[]) =>
    a.length === b.length && a.every((each) => b.includes(each));
  return (
    compare(expectingWhatCame(before).expects, two, () => []).length === 0 &&
    one.status === two.status &&
    didItsWork(before) === didItsWork(after) &&
    same(one.menu, two.menu) &&
    same(one.parts, two.parts) &&
    same(one.holds, two.holds)
  );
}

/** Whether a step did what it says by itself. */
function didItsWork({ differences }: StepResult): boolean {
  return differences.every(({ key }) => key !== 'step');
}

/** A step that expects what came out, and what a page shows or a browser holds where that is what came out otherwise. */
function expectingTheDifference(before: StepResult, after: StepResult): Step {
  const step = expectingWhatCame(before);
  const [one, two] = [before.outcome, after.outcome];
  if (compare(step.expects, two, () => []).length > 0) return step;
  // A step says by itself what it does, unless something is expected of it.
  if (didItsWork(before) !== didItsWork(after)) return { ...step, expects: before.step.expects };
  if (one.status !== two.status) return { ...step, expects: { ...step.expects, status: one.status } };
  const { expects } = step;
  const lacking = (from: readonly string[], of: readonly string[]) =>
    from.filter((each) => !of.includes(each));
  const [shown, seen] = [
    [...one.menu, ...one.parts],
    [...two.menu, ...two.parts],
  ];
  const [shows, hides] = [lacking(shown, seen), lacking(seen, shown)];
  const holds = one.holds.filter((each) => !two.holds.includes(each));
  const lacks = two.holds.filter((each) => !one.holds.includes(each));
  return {
    ...step,
    expects: {
      ...expects,
      shows: shows.length === 0 ? expects.shows : shows,
      hides: hides.length === 0 ? expects.hides : hides,
      holds: holds.length === 0 ? expects.holds : holds,
      lacks: lacks.length === 0 ? expects.lacks : lacks,
    },
  };
}

function lawsOf(results: readonly StepResult[]): LawName[] {
  return results.flatMap(({ broken }) =>
    broken.filter(({ weight }) => weight === 'law').map(({ law }) => law),
  );
}

/** What a step came to, in a few words: `/office, seen as ines`; what the browser holds where the other holds something else. */
function cameTo({ outcome, impossible }: StepResult, other: StepResult): string {
  if (impossible !== null) return `cannot be done: ${impossible}`;
  const { lands, status, seenAs, why, holds, refused, menu, parts } = outcome;
  const two = other.outcome;
  // What a page shows and a browser holds tells something only where the rest is the same.
  const isElsewhere =
    lands !== two.lands || status !== two.status || seenAs !== two.seenAs || why !== two.why;
  const differs = (one: readonly string[], another: readonly string[]) =>
    !isElsewhere && one.join() !== another.join();
  const code = (status ?? 0) >= 400 || refused !== null ? `${refused?.status ?? status ?? ''} ` : '';
  return [
    ...(seenAs === null ? [] : [`${code}${lands ?? 'no page'}`, `seen as ${seenAs}`]),
    ...(why === null || why === 'served' ? [] : [why]),
    ...(differs(menu, two.menu) ? [`links ${menu.join(' ') || 'none'}`] : []),
    ...(differs(parts, two.parts) ? [`parts ${parts.join(' ') || 'none'}`] : []),
    ...(differs(holds, two.holds) ? [`the browser holds ${holds.join(' and ') || 'nothing'}`] : []),
  ].join(', ');
}

import type { Stage } from '../play/stage.js';
import type { Action } from '../steps/all-steps.js';
import { isAdministration } from '../steps/all-steps.js';
import type { Outcome } from '../steps/outcome.js';
import type { Step } from '../steps/walk.js';
import type { Seconds } from '../time/duration.js';
import { playSteps, type WalkResult } from '../walks/runner.js';
import { givenTo, hasTrait, isPause } from '../steps/asking.js';
import { waitFor } from '../steps/wait.js';

/** Rounds of walks, by their numbers: those of a round are played on one app and one clock, which is new for each round. */
export type Timetable = readonly (readonly number[])[];

/** A step of one of several walks. */
export interface Slot {
  readonly walk: number;
  readonly step: number;
  readonly time: Seconds;
}

/**
 * Decides which walks share an app: as many as come out as alone. Those that change nothing for others are one round, but for those that
 * would come out otherwise beside the rest: where a login ends others of its account, or wrong passwords add up. Those that change
 * accounts share rounds as far as their accounts are not the same. Who starts the app again has it to themselves.
 */
export function timetableOf(stage: Stage, walks: readonly WalkResult[]): Timetable {
  const all = [...walks.keys()];
  const lonely = all.filter((index) =>
    walks[index]?.walk.steps.some(({ action }) => hasTrait(action, 'restarts-app')),
  );
  const changing = all.filter(
    (index) => !lonely.includes(index) && walks[index]?.walk.steps.some(({ action }) => changesApp(action)),
  );
  let together = all.filter((index) => !lonely.includes(index) && !changing.includes(index));
  for (;;) {
    const disturbed = together.length < 2 ? [] : disturbedIn(stage, walks, together);
    if (disturbed.length === 0) break;
    together = together.filter((index) => !disturbed.includes(index));
    changing.push(...disturbed);
  }
  const rounds: number[][] = [];
  for (const index of changing.sort((a, b) => a - b)) {
    const fits = (round: readonly number[]) =>
      !round.some((other) => sharesMessages(walks[index], walks[other])) &&
      disturbedIn(stage, walks, [...round, index]).length === 0;
    const round = rounds.find(fits);
    if (round === undefined) rounds.push([index]);
    else round.push(index);
  }
  return [...(together.length === 0 ? [] : [together]), ...rounds, ...lonely.map((index) => [index])];
}

/** Whether one of two walks is told by what was sent last to an account that the other one has something sent to as well. */
function sharesMessages(one: WalkResult | undefined, other: WalkResult | undefined): boolean {
  if (one === undefined || other === undefined) return false;
  const [mine, theirs] = [accountsIn(one), accountsIn(other)];
  return (isTold(one) || isTold(other)) && mine.some((account) => theirs.includes(account));
}

function isTold({ walk }: WalkResult): boolean {
  return walk.steps.some(({ action }) => hasTrait(action, 'needs-message'));
}

function accountsIn({ walk }: WalkResult): string[] {
  return walk.steps.flatMap(({ action }) => ('account' in action ? [action.account] : []));
}

/** The steps of some walks in order of time; walks in which several fall on one second take turns. */
export function slotsOf(walks: readonly WalkResult[], chosen: readonly number[]): Slot[] {
  const slots = chosen.flatMap((walk) =>
    (walks[walk]?.steps ?? []).map(({ time }, step): Slot => ({ walk, step, time })),
  );
  return slots.sort((a, b) => a.time - b.time || a.step - b.step || a.walk - b.walk);
}

/** Whether a step changes the app for everybody, or is told by what was sent last to an account. */
function changesApp(action: Action): boolean {
  return isAdministration(action) || hasTrait(action, 'disturbs');
}

/** Of walks that are played at the same time those that come out otherwise than alone. */
function disturbedIn(stage: Stage, walks: readonly WalkResult[], chosen: readonly number[]): number[] {
  const slots = slotsOf(walks, chosen).filter(({ walk, step }) => {
    const result = walks[walk]?.steps[step];
    return result !== undefined && result.impossible === null && !isPause(result.step.action);
  });
  let now = 0;
  const steps: Step[] = [];
  const owners: (Slot | null)[] = [];
  for (const slot of slots) {
    const own = walks[slot.walk]?.steps[slot.step];
    if (own === undefined) continue;
    if (slot.time > now) {
      steps.push(pauseOf(own.step, slot.time - now));
      owners.push(null);
      now = slot.time;
    }
    steps.push(named(own.step, slot.walk));
    owners.push(slot);
  }
  const disturbed = new Set<number>();
  const { steps: played } = playSteps(stage, steps);
  owners.forEach((slot, index) => {
    const own = slot === null ? undefined : walks[slot.walk]?.steps[slot.step];
    if (slot === null || own === undefined) return;
    const other = played[index];
    if (other === undefined || other.impossible !== null || !isAlike(own.outcome, other.outcome)) {
      disturbed.add(slot.walk);
    }
  });
  return [...disturbed];
}

function pauseOf(step: Step, seconds: Seconds): Step {
  return {
    ...step,
    action: waitFor(seconds),
    browser: 'clock',
    connectsFrom: null,
    expectBroken: [],
  };
}

/** A step with browsers of its own walk. */
function named(step: Step, walk: number): Step {
  const own = (browser: string) => `${walk} ${browser}`;
  return { ...step, action: givenTo(step.action, own), browser: own(step.browser) };
}

function isAlike(one: Outcome, other: Outcome): boolean {
  return (
    one.lands === other.lands &&
    one.status === other.status &&
    one.seenAs === other.seenAs &&
    one.why === other.why &&
    one.refreshes === other.refreshes &&
    one.via.join() === other.via.join() &&
    one.menu.join() === other.menu.join() &&
    one.parts.join() === other.parts.join() &&
    one.holds.join() === other.holds.join()
  );
}

// All steps of docs/proof-method.md together, scene by scene.

import type { Policy } from '../language/policy.js';
import type { Stage } from '../play/stage.js';
import { accountKinds } from './choices/alike-accounts.js';
import type { Cast } from './choices/cast.js';
import { exposuresOf, type Exposure } from './exposure/exposure.js';
import { goalsOf, type Goal } from './search/goals.js';
import type { Job, SceneOutcome } from './known/scene-outcome.js';
import { promiseKept } from '../laws/promise-kept.js';
import { lawOfPromise } from '../laws/promises.js';
import { Scene } from './search/scene.js';
import { brokenBy, SceneProof, type Finding, type Progress } from './search/scene-proof.js';

/** Who takes part beside one person in one browser and tab. */
export type Participants = Omit<Cast, 'account' | 'alike'>;

/** States after which a scene is left unsettled, unless another number is asked for. */
export const MOST_STATES = 20_000;
/** One person, in one browser with one tab, with every account. */
export const ALONE: Cast = {
  account: null,
  machine: false,
  alike: [],
  browsers: 1,
  tabs: 1,
  thief: false,
  administrator: false,
};

/**
 * The casts that are looked at, each by itself. Unless participants are chosen: a person with every account; and with each
 * kind of account that can sign in, a person with two tabs, one with a thief beside them, and one with an administrator. Those
 * who are chosen take part with each kind of account; where it is said how many browsers there are, with every account.
 */
export function castsOf(stage: Stage, chosen: Partial<Participants> | null): Cast[] {
  if (chosen?.browsers !== undefined) return [{ ...ALONE, ...chosen }];
  if (stage.app.policy.login === null) return [ALONE];
  const castsOfEach = (more: Partial<Cast>) =>
    accountKinds(stage, more.administrator === true).flatMap(({ account, others }): Cast[] => {
      // Nobody but an administrator can do anything to a machine; what it does by itself is seen with everybody else.
      if (account.key && more.administrator !== true) return [];
      const own = { account: account.name, machine: account.key, alike: others.map(({ name }) => name) };
      return [{ ...ALONE, ...own, ...more }];
    });
  const beside: readonly Partial<Cast>[] =
    chosen === null ? [{ thief: true }, { administrator: true }, { tabs: 2 }] : [chosen];
  return [ALONE, ...beside.flatMap(castsOfEach)];
}

/**
 * Settles a scene.
 *
 * @param pause called every few states with how far it is; gives true to end it
 */
export async function settleScene(
  stage: Stage,
  { cast, most, withExposures }: Job,
  pause: (progress: Progress) => Promise<boolean> | boolean,
): Promise<SceneOutcome> {
  const scene = new Scene(stage, cast);
  const proof = new SceneProof(scene, most);
  let isInterrupted = false;
  while (!isInterrupted && !proof.go(STATES_A_TURN)) isInterrupted = await pause(proof.progress);
  let exposures: readonly Exposure[] | null = null;
  if (withExposures && !isInterrupted && proof.cover.left === 0) {
    const working = exposuresOf(scene, proof.cover);
    for (let step = working.next(); !isInterrupted && exposures === null; step = working.next()) {
      if (step.done === true) exposures = step.value;
      else isInterrupted = await pause(proof.progress);
    }
  }
  const { states, transitions } = proof.progress;
  const { classes, addresses } = scene.requests;
  return {
    cast,
    states,
    transitions,
    addresses,
    requests: classes.length,
    verbs: [...new Set(scene.moves.map(({ action }) => action.verb))],
    findings: proof.found,
    exposures,
    isInterrupted,
  };
}

const STATES_A_TURN = 5;

/** Whether a law holds only since the policy has nothing that it is about. */
export function isUnasked({ goal, finding }: Pick<Verdict, 'goal' | 'finding'>): boolean {
  return finding.verdict === 'holds' && goal.lacks !== null;
}

/** What came of a goal in all scenes. */
export interface Verdict {
  readonly goal: Goal;
  readonly finding: Finding;
  /** The scene in which it is broken, or that leaves it open; null where it holds. */
  readonly cast: Cast | null;
}

/**
 * Puts the findings of scenes together: a goal is broken where one breaks it, by the shortest walk of all, and holds where it
 * holds in each.
 *
 * @param outcomes those of the casts, in their order; null for one that was not looked at
 * @param ending why what was not settled was not
 */
export function verdictsOf(
  policy: Policy,
  casts: readonly Cast[],
  outcomes: readonly (SceneOutcome | null)[],
  ending: string,
): Verdict[] {
  const exposures = outcomes.flatMap((outcome) => outcome?.exposures ?? []);
  const settled = goalsOf(policy).map((goal): Verdict => {
    const found = casts.map((cast, at): Verdict => {
      const finding = outcomes[at]?.findings.get(goal.id);
      return { goal, cast, finding: finding ?? { verdict: 'open', because: ending } };
    });
    const broken = found.flatMap(({ finding, cast }) =>
      finding.verdict === 'broken' ? [{ finding, cast }] : [],
    );
    const together = brokenBy(
      broken.flatMap(({ finding: { by, also } }) => [by, ...also]),
      broken.flatMap(({ finding }) => finding.others),
    );
    if (together !== null) {
      const cast = broken.find(({ finding }) => finding.by === together.by)?.cast ?? null;
      return { goal, finding: together, cast };
    }
    const open = found.find(({ finding }) => finding.verdict === 'open');
    if (open?.finding.verdict !== 'open') return { goal, finding: { verdict: 'holds' }, cast: null };
    const holds = found.filter(({ finding }) => finding.verdict === 'holds').length;
    const known = holds === 0 ? '' : `; it holds in ${holds} of ${casts.length} scenes`;
    if (isWithin(goal, exposures)) return { goal, finding: { verdict: 'holds' }, cast: null };
    return { ...open, finding: { verdict: 'open', because: open.finding.because + known } };
  });
  return settled.map((verdict) => {
    const { goal, finding } = verdict;
    if (goal.id !== promiseKept.meta.name || finding.verdict !== 'open') return verdict;
    // It is broken by nothing but a promise of its own that is not kept.
    const own = settled.filter(
      ({ goal: { promise } }) => promise !== null && lawOfPromise(promise) === goal.id,
    );
    const isKept = own.length > 0 && own.every((each) => each.finding.verdict === 'holds');
    return isKept ? { goal, finding: { verdict: 'holds' }, cast: null } : verdict;
  });
}

/**
 * Whether the exposure bounds show a promise about time to hold: no sequence of steps goes beyond them, so one that a search could
 * not settle is settled by them.
 */
function isWithin({ promise }: Goal, exposures: readonly Exposure[]): boolean {
  if (promise === null || promise.after === null || exposures.length === 0) return false;
  const { after, copied, atMost } = promise;
  return exposures
    .filter(({ credential, event }) => event === after && (copied ?? credential) === credential)
    .every(({ ends }) => ends !== null && ends <= (atMost ?? 0));
}

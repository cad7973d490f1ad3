import { availableParallelism } from 'node:os';
import {
  ALONE,
  castsOf,
  goalsOf,
  MOST_STATES,
  stageOf,
  verdictsOf,
  type Cast,
  type Exposure,
  type Job,
  type Participants,
  type SceneOutcome,
  type Seconds,
  type Stage,
} from '../core/internal.js';
import type { Proof } from '../render/proof-text.js';
import { keyOf, type KnownScenes } from './known-scenes.js';
import type { Usable } from './project.js';
import type { WorkOptions } from './prove-options.js';
import { ProveJobs } from './prove-jobs.js';
import { STATUS } from './status.js';
import { showProgress } from './prove-progress.js';
import type { Terminal } from './terminal.js';
import type { WhenChanged } from './watch.js';

/** The scenes of a proof, each with the key of what comes of it. */
export interface Plan {
  readonly project: Usable;
  readonly stage: Stage;
  readonly casts: readonly Cast[];
  /** The casts, and where they are chosen one person alone, for the exposure bounds. */
  readonly scenes: readonly { readonly job: Job; readonly key: string }[];
}

/** @param chosen who takes part; null for all that are looked at unless it is said */
export function planOf(
  project: Usable,
  chosen: Partial<Participants> | null,
  { mostStates }: WorkOptions,
): Plan {
  const stage = stageOf(project.policy);
  const casts = castsOf(stage, chosen);
  const most = mostStates ?? MOST_STATES;
  const jobs = casts.map((cast): Job => ({ cast, most, withExposures: cast === ALONE }));
  const all = casts.includes(ALONE) ? jobs : [...jobs, { cast: ALONE, most, withExposures: true }];
  return { project, stage, casts, scenes: all.map((job) => ({ job, key: keyOf(job, project) })) };
}

/** What came of the scenes of a plan. */
export interface Settled {
  readonly outcomes: readonly (SceneOutcome | null)[];
  /** How many were known before. */
  readonly known: number;
  /** Why what was not settled was not. */
  readonly ending: string;
  /** Whether it was ended since the policy has changed. */
  readonly isChanged: boolean;
  readonly seconds: Seconds;
}

/** Settles the scenes of a plan that are not known, and keeps what comes of them. Ctrl-C ends it. */
export async function settle(
  { project: { policy, input }, stage, scenes }: Plan,
  known: KnownScenes,
  options: WorkOptions,
  terminal: Terminal,
  whenChanged: WhenChanged,
): Promise<Settled> {
  const started = Date.now();
  const before = scenes.map(({ key, job }) => known.find(key, stage, job));
  const work = new ProveJobs(
    input.source,
    scenes.map(({ job }) => job),
    before,
  );
  let ending = 'it was not finished';
  let isChanged = false;
  const end = (because: string) => {
    ending = because;
    work.end();
  };
  const interrupted = () => {
    end('it was interrupted');
  };
  process.on('SIGINT', interrupted).on('SIGTERM', interrupted).on('SIGHUP', interrupted);
  whenChanged(() => {
    isChanged = true;
    end('the policy has changed');
  });
  const { mostTime, cores } = options;
  const timer =
    mostTime === undefined
      ? null
      : setTimeout(() => {
          end(`the limit of ${mostTime} s was hit`);
        }, mostTime * 1000);
  const hide = showProgress(terminal, options, work, {
    scenes: scenes.length,
    goals: goalsOf(policy).length,
  });
  try {
    const outcomes = await work.run(cores ?? availableParallelism());
    for (const [at, outcome] of outcomes.entries()) {
      if (outcome !== null && before[at] === null) known.keep(scenes[at]?.key ?? '', outcome);
    }
    const seconds = (Date.now() - started) / 1000;
    return { outcomes, known: before.filter((each) => each !== null).length, ending, isChanged, seconds };
  } finally {
    hide();
    if (timer !== null) clearTimeout(timer);
    process.off('SIGINT', interrupted).off('SIGTERM', interrupted).off('SIGHUP', interrupted);
  }
}

/** What all scenes of a plan come to together. */
export function proofOf(
  { project, stage, casts }: Plan,
  { outcomes, known, ending, seconds }: Settled,
): Proof {
  return {
    stage,
    input: project.input,
    verdicts: verdictsOf(project.policy, casts, outcomes, ending),
    outcomes: outcomes.slice(0, casts.length).flatMap((outcome) => outcome ?? []),
    scenes: casts.length,
    known: Math.min(known, casts.length),
    exposures: outcomes.reduce<readonly Exposure[] | null>(
      (found, outcome) => found ?? outcome?.exposures ?? null,
      null,
    ),
    seconds,
  };
}

/** Broken goes before not settled: what was found is found. Advice fails nothing. */
export function statusOf({ verdicts }: Proof): number {
  const is = (verdict: string) =>
    verdicts.some(({ goal, finding }) => finding.verdict === verdict && goal.law?.weight !== 'advice');
  if (is('broken')) return STATUS.found;
  return verdicts.some(({ finding }) => finding.verdict === 'open') ? STATUS.unsettled : STATUS.good;
}

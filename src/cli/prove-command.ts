import { availableParallelism } from 'node:os';
import { Command, InvalidArgumentError } from 'commander';
import {
  ALONE,
  castsOf,
  goalsOf,
  MOST_STATES,
  parseDuration,
  stageOf,
  verdictsOf,
  type Exposure,
  type Job,
  type Participants,
  type Seconds,
  type Verdict,
} from '../core/internal.js';
import { PROVE_FORMATS } from '../render/formats.js';
import type { Proof } from '../render/proof-text.js';
import { proofWalks } from '../render/proof-walks.js';
import { readTexts } from './files.js';
import {
  complain,
  giveOutIn,
  mustBeWritable,
  numberWithin,
  withOutputOptions,
  withPolicy,
  writeWhole,
  type OutputOptions,
} from './output.js';
import { openProject, type Usable } from './project.js';
import { ProveJobs } from './prove-jobs.js';
import { showProgress } from './prove-progress.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

interface ProveOptions extends OutputOptions {
  readonly browsers?: number;
  readonly tabs?: number;
  readonly thief?: boolean;
  readonly administrator?: boolean;
  readonly mostStates?: number;
  readonly mostTime?: Seconds;
  readonly cores?: number;
  readonly saveWalks?: string;
}

/** `cavrin prove`. */
export function proveCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('prove')
    .summary('settle every law and promise for all sequences, addresses and waits')
    .description(
      'Settles whether each law and each promise of the policy holds for all navigation sequences, all addresses and all ' +
        'waiting times. What is broken is shown with the shortest walk that breaks it; what can still open something after a ' +
        'logout, a removed role or a copy, with the longest time that it can.\n' +
        'Unless it is said who takes part, these are looked at one after another: a person with every account, and, with each ' +
        'kind of account, a person with two tabs, a person and a thief, a person and an administrator.\n' +
        'Exit status: 0 all holds, 1 something is broken, 2 the input or the call is wrong, 3 not all was settled.',
    );
  return withOutputOptions(withPolicy(command), 'show only what is broken or not settled', PROVE_FORMATS)
    .option('--browsers <number>', 'browsers of people who take part, from 1 to 3', numberWithin(1, 3))
    .option('--tabs <number>', 'tabs that a browser may have, from 1 to 3', numberWithin(1, 3))
    .option('--thief', 'somebody takes part who gets a copy of one thing that a browser holds')
    .option('--administrator', 'somebody takes part who changes one account, and restarts the app')
    .option('--save-walks <file>', 'write the walks that were found to a file that `cavrin walk` plays')
    .option(
      '--most-states <number>',
      `leave open what is not settled after so many states of a scene (default: ${MOST_STATES})`,
      numberWithin(1, 100_000_000),
    )
    .option(
      '--most-time <duration>',
      'leave open what is not settled after this time, such as 30s',
      readDuration,
    )
    .option(
      '--cores <number>',
      'scenes that are looked at at a time (default: one a core)',
      numberWithin(1, 64),
    )
    .action(async (policy: string | undefined, options: ProveOptions) => {
      done(await prove(policy, options, terminal));
    });
}

function readDuration(text: string): Seconds {
  const seconds = parseDuration(text);
  if (typeof seconds === 'string' || seconds === 0) {
    throw new InvalidArgumentError('give a duration such as 30s or 5m');
  }
  return seconds;
}

async function prove(file: string | undefined, options: ProveOptions, terminal: Terminal): Promise<number> {
  const texts = readTexts({ folder: terminal.folder, policy: file, walks: [] }, 'policy only');
  const project = await openProject(texts);
  if ('faults' in project) return complain(project.faults, PROVE_FORMATS, options, terminal);
  for (const name of [options.saveWalks, options.output]) {
    if (name !== undefined) mustBeWritable(name, terminal);
  }
  const proof = await settle(project, options, terminal);
  const look = { ...lookOf(terminal, terminal.out, options.color), quiet: options.quiet === true };
  if (options.saveWalks !== undefined) writeWhole(options.saveWalks, proofWalks(proof), terminal);
  giveOutIn(PROVE_FORMATS, proof, look, options, terminal);
  return statusOf(proof.verdicts);
}

/** Broken goes before not settled: what was found is found. Advice fails nothing. */
function statusOf(verdicts: readonly Verdict[]): number {
  const is = (verdict: string) =>
    verdicts.some(({ goal, finding }) => finding.verdict === verdict && goal.law?.weight !== 'advice');
  if (is('broken')) return STATUS.found;
  return verdicts.some(({ finding }) => finding.verdict === 'open') ? STATUS.unsettled : STATUS.good;
}

async function settle({ policy, input }: Usable, options: ProveOptions, terminal: Terminal): Promise<Proof> {
  const stage = stageOf(policy);
  const casts = castsOf(stage, participantsOf(options));
  const most = options.mostStates ?? MOST_STATES;
  const jobs = casts.map((cast): Job => ({ cast, most, withExposures: cast === ALONE }));
  const all = casts.includes(ALONE) ? jobs : [...jobs, { cast: ALONE, most, withExposures: true }];
  const work = new ProveJobs(input.source, all);
  const started = Date.now();
  let ending = 'it was not finished';
  const end = (because: string) => {
    ending = because;
    work.end();
  };
  const interrupted = () => {
    end('it was interrupted');
  };
  process.on('SIGINT', interrupted).on('SIGTERM', interrupted);
  const { mostTime } = options;
  const timer =
    mostTime === undefined
      ? null
      : setTimeout(() => {
          end(`the limit of ${mostTime} s was hit`);
        }, mostTime * 1000);
  const hide = showProgress(terminal, options, work, { scenes: all.length, goals: goalsOf(policy).length });
  try {
    const outcomes = await work.run(options.cores ?? availableParallelism());
    return {
      stage,
      input,
      verdicts: verdictsOf(policy, casts, outcomes, ending),
      outcomes: outcomes.slice(0, casts.length).flatMap((outcome) => outcome ?? []),
      scenes: casts.length,
      exposures: outcomes.reduce<readonly Exposure[] | null>(
        (known, outcome) => known ?? outcome?.exposures ?? null,
        null,
      ),
      seconds: (Date.now() - started) / 1000,
    };
  } finally {
    hide();
    if (timer !== null) clearTimeout(timer);
    process.off('SIGINT', interrupted).off('SIGTERM', interrupted);
  }
}

/** Who takes part, where any of that was said. */
function participantsOf({ browsers, tabs, thief, administrator }: ProveOptions): Participants | null {
  if ([browsers, tabs, thief, administrator].every((each) => each === undefined)) return null;
  return {
    browsers: browsers ?? 1,
    tabs: tabs ?? 1,
    thief: thief === true,
    administrator: administrator === true,
  };
}

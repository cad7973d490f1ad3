import { createHash } from 'node:crypto';
import { Command } from 'commander';
import {
  gridOf,
  inReadingOrder,
  landingMap,
  limitsOf,
  playSteps,
  playWalk,
  problem,
  rowReasons,
  runChecks,
  stateMap,
  type Diagnostic,
  type Landing,
  type Limit,
  type StateMap,
  type WalkResult,
} from '../core/internal.js';
import { columnsOf } from '../render/grid-columns.js';
import { dotOf } from '../render/graphs/dot.js';
import { landingGraph } from '../render/graphs/landing-graph.js';
import { stateGraph } from '../render/graphs/state-graph.js';
import { liveFormat, type LiveJson } from '../render/json-formats.js';
import { owningUp } from '../render/owning-up.js';
import type { Proof } from '../render/proof-text.js';
import type { ReportPictures } from '../render/report/report-input.js';
import { brokenWalks } from '../render/report/report-laws.js';
import { reportHtml } from '../render/report/report.js';
import { readText, readTexts } from './files.js';
import { cacheFolder, KnownScenes } from './known-scenes.js';
import { complain, giveOut, mustBeWritable, withFiles, type OutputOptions } from './output.js';
import { openProject } from './project.js';
import { withWorkOptions, type WorkOptions } from './prove-options.js';
import { planOf, proofOf, settle, statusOf } from './prove-plan.js';
import { STATUS } from './status.js';
import type { Terminal } from './terminal.js';

declare const CAVRIN_VERSION: string;

interface ReportOptions extends Omit<WorkOptions, 'format'> {
  readonly live?: string;
}

/** `cavrin report`. */
export function reportCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('report')
    .summary('write one page for whoever signs the policy off')
    .description(
      'Checks, plays and proves, and writes all of it as one HTML file that needs nothing else: the verdict, who may do what, ' +
        'where each role lands, how long things last, login states, walks, laws, findings and the text of the policy.\n' +
        'Exit status: 0 all holds, 1 something is wrong, 2 the input is wrong, 3 not all was settled.',
    )
    .option('--output <file>', 'write the page to a file instead of standard output')
    .option('--live <file>', 'have what a run against the real app found: cavrin live --format json');
  return withWorkOptions(withFiles(command)).action(
    async (policy: string | undefined, walks: string[], options: ReportOptions) => {
      done(await report({ folder: terminal.folder, policy, walks }, options, terminal));
    },
  );
}

async function report(
  request: Parameters<typeof readTexts>[0],
  options: ReportOptions,
  terminal: Terminal,
): Promise<number> {
  const refuse = (faults: readonly Diagnostic[]) => complain(faults, [], TEXT, terminal);
  const project = await openProject(readTexts(request));
  if ('faults' in project) return refuse(project.faults);
  const live = options.live === undefined ? null : readLive(options.live, terminal);
  if (live !== null && 'code' in live) return refuse([live]);
  if (options.output === undefined && terminal.out.isTTY) {
    const says = 'a page of HTML would only fill the terminal';
    return refuse([problem('bad-request', { problem: says, hint: 'name a file with --output' }, null)]);
  }
  if (options.output !== undefined) mustBeWritable(options.output, terminal);
  const work = { ...options, ...TEXT };
  const known = new KnownScenes(cacheFolder(options.cache, terminal.folder, process.env));
  const plan = planOf(project, null, work);
  const proof = proofOf(plan, await settle(plan, known, work, terminal, () => undefined));
  const { policy, input } = project;
  const findings = inReadingOrder([...project.notes, ...runChecks(policy, input, project.walks)]);
  const walks = project.walks.map((walk) => playWalk(plan.stage, walk));
  const grid = gridOf(policy, 'GET', 'roles');
  const states = columnsOf(grid).flatMap(({ at }) => grid.states[at]?.name ?? []);
  const shown = { landings: landingMap(policy), states: stateMap(policy), limits: limitsOf(policy) };
  const page = reportHtml(
    {
      proof,
      findings,
      walks,
      grid,
      reasons: rowReasons(policy, states),
      ...shown,
      live,
      pictures: await picturesOf(proof, walks, shown),
      version: CAVRIN_VERSION,
    },
    (text) => createHash('sha256').update(text).digest('base64'),
  );
  giveOut(page, work, terminal);
  const isWrong =
    findings.some(({ severity }) => severity !== 'advice') || walks.some(({ passed }) => !passed);
  const differs = live?.findings.some(({ accepted }) => accepted === null) === true;
  return isWrong || differs ? STATUS.found : statusOf(proof);
}

const TEXT: OutputOptions = { format: 'text' };

async function picturesOf(
  proof: Proof,
  walks: readonly WalkResult[],
  shown: {
    readonly landings: readonly Landing[];
    readonly states: StateMap;
    readonly limits: readonly Limit[];
  },
): Promise<ReportPictures> {
  const { lanesSvg, livesSvg, svgOfDot } = await import('../draw/index.js');
  const { stage } = proof;
  const { app } = stage.app.policy;
  const broken = brokenWalks(proof).map(async (way) => {
    const { steps } = playSteps(stage, owningUp(stage, way.steps));
    return [way, { steps, svg: await lanesSvg(stage, steps) }] as const;
  });
  return {
    landings: await svgOfDot(dotOf(landingGraph(shown.landings, app), 'landing')),
    states: await svgOfDot(dotOf(stateGraph(shown.states, app), 'state')),
    lives: await livesSvg(shown.limits, proof.exposures),
    walks: await Promise.all(walks.map(({ steps }) => lanesSvg(stage, steps))),
    broken: new Map(await Promise.all(broken)),
  };
}

/** What a run against the real app found; what is wrong where the file is none. */
function readLive(name: string, terminal: Terminal): LiveJson | Diagnostic {
  const source = readText(name, terminal.folder, false);
  if (!('text' in source)) return source;
  const says = `${name} is no result of cavrin live`;
  const fault = problem(
    'bad-request',
    { problem: says, hint: 'write one with: cavrin live --format json --output live.json' },
    null,
  );
  try {
    const read = liveFormat.safeParse(JSON.parse(source.text));
    return read.success ? read.data : fault;
  } catch {
    return fault;
  }
}

import { extname } from 'node:path';
import { Argument, Command, Option } from 'commander';
import {
  gridOf,
  landingMap,
  limitsOf,
  playWalk,
  problem,
  stageOf,
  stateMap,
  type Diagnostic,
} from '../core/internal.js';
import { dotOf } from '../render/graphs/dot.js';
import type { Graph } from '../render/graphs/graph.js';
import { landingGraph } from '../render/graphs/landing-graph.js';
import { mermaidOf } from '../render/graphs/mermaid.js';
import { stateGraph } from '../render/graphs/state-graph.js';
import { readTexts } from './files.js';
import { cacheFolder, KnownScenes } from './known-scenes.js';
import { complain, mustBeWritable, writeWhole, type OutputOptions } from './output.js';
import { openProject, wantedWalks, type Usable } from './project.js';
import { withWorkOptions, type WorkOptions } from './prove-options.js';
import { planOf, proofOf, settle } from './prove-plan.js';
import { STATUS } from './status.js';
import type { Terminal } from './terminal.js';

const PICTURES = ['landings', 'states', 'lives', 'grid', 'walk'] as const;
type Picture = (typeof PICTURES)[number];
const FORMATS = ['svg', 'png', 'dot', 'mermaid'] as const;
type PictureFormat = (typeof FORMATS)[number];

/** The form that the ending of a file stands for. */
const ENDINGS: Readonly<Record<string, PictureFormat>> = {
  '.svg': 'svg',
  '.png': 'png',
  '.dot': 'dot',
  '.gv': 'dot',
  '.mmd': 'mermaid',
};

interface DrawOptions extends Omit<WorkOptions, 'format'> {
  readonly format?: PictureFormat;
  readonly accounts?: boolean;
  readonly proof: boolean;
}

/** `cavrin draw`. */
export function drawCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('draw')
    .summary('draw where people land, what they can be, how long things last, or a walk')
    .description(
      'Draws one picture of a policy:\n' +
        '  landings     where each role lands: after login, sign-up, logout, a refusal\n' +
        '  states       what somebody can be, and by what they pass from one to the other\n' +
        '  lives        how long everything lasts, on one axis; what can still be used is proved first\n' +
        '  grid         every page against every login state\n' +
        '  walk <name>  a walk as lanes, one a browser, with the life of what each holds\n' +
        'Exit status: 0 drawn, 2 the input or the call is wrong.',
    )
    .addArgument(new Argument('<picture>', 'what to draw').choices(PICTURES))
    .argument('[rest...]', 'the name of the walk, or a part of it, with walk; then the policy and its walks')
    .addOption(
      new Option(
        '--format <format>',
        'svg, png or, of landings and states, dot or mermaid (default: by the ending of --output, or svg)',
      ).choices(FORMATS),
    )
    .option('--output <file>', 'write the picture to a file instead of standard output')
    .option('--accounts', 'with grid: columns for accounts instead of roles')
    .option('--no-proof', 'with lives: only what the policy sets, without a proof');
  return withWorkOptions(command).action(
    async (picture: Picture, rest: readonly string[], options: DrawOptions) => {
      done(await draw(picture, rest, options, terminal));
    },
  );
}

async function draw(
  picture: Picture,
  rest: readonly string[],
  options: DrawOptions,
  terminal: Terminal,
): Promise<number> {
  const { output } = options;
  const ending = output === undefined ? undefined : ENDINGS[extname(output).toLowerCase()];
  const format = options.format ?? ending ?? 'svg';
  const name = picture === 'walk' ? rest[0] : undefined;
  const [policy, ...walks] = picture === 'walk' ? rest.slice(1) : rest;
  const fault = faultOf(picture, name, format, options, terminal);
  if (fault !== null) return refuse([fault], terminal);
  const request = { folder: terminal.folder, policy, walks };
  const project = await openProject(readTexts(request, picture === 'walk' ? 'all' : 'policy only'));
  if ('faults' in project) return refuse(project.faults, terminal);
  if (output !== undefined) mustBeWritable(output, terminal);
  const drawn = await drawnOf(picture, name, format, project, options, terminal);
  if (typeof drawn !== 'string' && !(drawn instanceof Uint8Array)) return refuse(drawn, terminal);
  if (output === undefined) terminal.out.write(drawn);
  else writeWhole(output, drawn, terminal);
  return STATUS.good;
}

function refuse(faults: readonly Diagnostic[], terminal: Terminal): number {
  return complain(faults, [], { format: 'text' } satisfies OutputOptions, terminal);
}

/** What is wrong with the call; null for nothing. */
function faultOf(
  picture: Picture,
  name: string | undefined,
  format: PictureFormat,
  { output }: DrawOptions,
  terminal: Terminal,
): Diagnostic | null {
  const fault = (says: string, hint: string) => problem('bad-request', { problem: says, hint }, null);
  if (picture === 'walk' && name === undefined) {
    return fault('which walk?', 'name it, or a part of its name: cavrin draw walk "reload"');
  }
  const isGraph = picture === 'landings' || picture === 'states';
  if (!isGraph && (format === 'dot' || format === 'mermaid')) {
    return fault(`${picture} is no graph, and has no form ${format}`, 'use svg or png');
  }
  return format === 'png' && output === undefined && terminal.out.isTTY
    ? fault('a PNG would only disturb a terminal', 'name a file with --output')
    : null;
}

async function drawnOf(
  picture: Picture,
  name: string | undefined,
  format: PictureFormat,
  project: Usable,
  options: DrawOptions,
  terminal: Terminal,
): Promise<string | Uint8Array | readonly Diagnostic[]> {
  if (picture === 'landings' || picture === 'states') {
    const { policy } = project;
    const graph: Graph =
      picture === 'landings'
        ? landingGraph(landingMap(policy), policy.app)
        : stateGraph(stateMap(policy), policy.app);
    if (format === 'mermaid') return mermaidOf(graph);
    const dot = dotOf(graph);
    if (format === 'dot') return dot;
    const { svgOfDot } = await import('../draw/index.js');
    return finished(await svgOfDot(dot), format);
  }
  const svg = await chartOf(picture, name, project, options, terminal);
  return typeof svg === 'string' ? finished(svg, format) : svg;
}

async function finished(svg: string, format: PictureFormat): Promise<string | Uint8Array> {
  const { pngOfSvg } = await import('../draw/index.js');
  return format === 'png' ? pngOfSvg(svg) : `${svg.trimEnd()}\n`;
}

async function chartOf(
  picture: 'lives' | 'grid' | 'walk',
  name: string | undefined,
  project: Usable,
  options: DrawOptions,
  terminal: Terminal,
): Promise<string | readonly Diagnostic[]> {
  const { policy } = project;
  const { gridSvg, lanesSvg, livesSvg } = await import('../draw/index.js');
  if (picture === 'grid') {
    return gridSvg(gridOf(policy, 'GET', options.accounts === true ? 'accounts' : 'roles'));
  }
  if (picture === 'lives') return livesSvg(limitsOf(policy), await exposuresOf(project, options, terminal));
  const wanted = wantedWalks(project.walks, name);
  if ('faults' in wanted) return wanted.faults;
  const [walk, ...others] = wanted.walks;
  const exact = wanted.walks.find((each) => each.name === name) ?? (others.length === 0 ? walk : undefined);
  if (exact === undefined) {
    const names = wanted.walks.map((each) => each.name).slice(0, 5);
    const says = `${wanted.walks.length} walks have ${name ?? ''} in their name: ${names.join('; ')}`;
    return [problem('bad-request', { problem: says, hint: 'give more of the name of one' }, null)];
  }
  const stage = stageOf(policy);
  return lanesSvg(stage, playWalk(stage, exact).steps);
}

/** How long what was copied can still be used; null where it is not asked for. */
async function exposuresOf(project: Usable, options: DrawOptions, terminal: Terminal) {
  if (!options.proof) return null;
  const known = new KnownScenes(cacheFolder(options.cache, terminal.folder, process.env));
  const work = { ...options, format: 'svg' };
  const plan = planOf(project, { browsers: 1 }, work);
  return proofOf(plan, await settle(plan, known, work, terminal, () => undefined)).exposures;
}

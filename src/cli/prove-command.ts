import { Command, Option } from 'commander';
import type { Participants } from '../core/internal.js';
import { PROVE_FORMATS } from '../render/formats.js';
import { proofWalks } from '../render/proof-walks.js';
import { readTexts } from './files.js';
import { cacheFolder, KnownScenes } from './known-scenes.js';
import {
  complain,
  giveOutIn,
  mustBeWritable,
  numberWithin,
  withOutputOptions,
  withPolicy,
  writeWhole,
} from './output.js';
import { openProject } from './project.js';
import { addParts, provePart, readShard, type Shard } from './prove-parts.js';
import { withWorkOptions, type WorkOptions } from './prove-options.js';
import { planOf, proofOf, settle, statusOf } from './prove-plan.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';
import { watching, withWatch, type WatchOptions } from './watch.js';

interface ProveOptions extends WorkOptions, WatchOptions {
  readonly browsers?: number;
  readonly tabs?: number;
  readonly thief?: boolean;
  readonly administrator?: boolean;
  readonly steps?: boolean;
  readonly verbose?: boolean;
  readonly saveWalks?: string;
  readonly shard?: Shard;
  readonly join?: readonly string[];
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
        'kind of account, a person with two tabs, a person and a thief, a person and an administrator. Who is chosen takes part ' +
        'with each kind of account.\n' +
        'Exit status: 0 all holds, 1 something is broken, 2 the input or the call is wrong, 3 not all was settled.',
    );
  const shared = withOutputOptions(
    withPolicy(command),
    'show only what is broken or not settled',
    PROVE_FORMATS,
  );
  return withWorkOptions(withWatch(shared))
    .option(
      '--browsers <number>',
      'browsers of people who take part, from 1 to 3, with every account in one scene',
      numberWithin(1, 3),
    )
    .option('--tabs <number>', 'tabs that a browser may have, from 1 to 3', numberWithin(1, 3))
    .option('--thief', 'somebody takes part who gets a copy of one thing that a browser holds')
    .option('--administrator', 'somebody takes part who changes one account, and restarts the app')
    .option('--steps', 'show the walk of each exposure step by step, and not in words')
    .option('--verbose', 'show who took part in each scene, what was tried and how many states there are')
    .option('--save-walks <file>', 'write the walks that were found to a file that `cavrin walk` plays')
    .addOption(
      new Option(
        '--shard <part>',
        'settle one part of the scenes, such as 1/4, and write it as JSON for --join',
      )
        .argParser(readShard)
        .conflicts(['join', 'watch', 'saveWalks']),
    )
    .addOption(
      new Option('--join <files...>', 'put the parts of a proof together; name the policy before').conflicts([
        'watch',
        'mostTime',
      ]),
    )
    .action(async (policy: string | undefined, options: ProveOptions) => {
      done(await prove(policy, options, terminal));
    });
}

/** Proves, or proves a part, or puts parts together. */
async function prove(file: string | undefined, options: ProveOptions, terminal: Terminal): Promise<number> {
  const request = { folder: terminal.folder, policy: file, walks: [] };
  const { shard, join, saveWalks, output } = options;
  const isApart = shard !== undefined || join !== undefined;
  const known = new KnownScenes(isApart ? null : cacheFolder(options.cache, terminal.folder, process.env));
  return watching(request, options, terminal, async (whenChanged) => {
    const project = await openProject(readTexts(request, 'policy only'));
    if ('faults' in project) return complain(project.faults, PROVE_FORMATS, options, terminal);
    for (const name of [saveWalks, output]) if (name !== undefined) mustBeWritable(name, terminal);
    const plan = planOf(project, participantsOf(options), options);
    if (shard !== undefined) return provePart(plan, shard, known, options, terminal);
    if (join !== undefined) addParts(join, plan, known, terminal);
    const settled = await settle(plan, known, options, terminal, whenChanged);
    // What is about to be worked out anew is not told.
    if (settled.isChanged) return STATUS.unsettled;
    const proof = proofOf(plan, settled);
    const look = {
      ...lookOf(terminal, terminal.out, options.color),
      quiet: options.quiet === true,
      steps: options.steps === true,
      verbose: options.verbose === true,
    };
    if (saveWalks !== undefined) writeWhole(saveWalks, proofWalks(proof), terminal);
    giveOutIn(PROVE_FORMATS, proof, look, options, terminal);
    return statusOf(proof);
  });
}

/** Who takes part, where any of that was said. */
function participantsOf(options: ProveOptions): Partial<Participants> | null {
  const { browsers, tabs, thief, administrator } = options;
  const chosen = { browsers, tabs, thief, administrator };
  const said = Object.entries(chosen).filter(([, each]) => each !== undefined);
  return said.length === 0 ? null : Object.fromEntries(said);
}

import { Command } from 'commander';
import { playWalk, stageOf } from '../core/internal.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { WALK_FORMATS } from '../render/formats.js';
import { readTexts, type Texts } from './files.js';
import { complain, giveOutIn, withFiles, withOutputOptions, type OutputOptions } from './output.js';
import { openProject, wantedWalks } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';
import { watching, withWatch, type WatchOptions } from './watch.js';

export interface WalkOptions extends OutputOptions {
  readonly only?: string;
  readonly verbose?: boolean;
  readonly steps?: boolean;
}

/** Declares `--only` and the shared options, for every command that plays walks. */
export function withWalkOptions(command: Command): Command {
  command
    .option('--only <text>', 'play only walks with this text in their name')
    .option('--steps', 'show the steps of walks that come out as expected too')
    .option(
      '--verbose',
      'show the steps of all walks with every message, and what browsers hold after each step',
    );
  return withOutputOptions(
    command,
    'show only walks that do not come out as expected, and the count',
    WALK_FORMATS,
  );
}

/** `cavrin walk`. */
export function walkCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('walk')
    .summary('play walks on the virtual clock and check what they expect')
    .description(
      'Plays walks on a virtual clock, in simulated browsers against the app that the policy describes, and shows for each ' +
        'step what was asked, whom the app took the visitor for, every redirect, where it landed, and why.\n' +
        'Exit status: 0 all as expected, 1 some walk was not, 2 the input is wrong.',
    );
  return withWatch(withWalkOptions(withFiles(command))).action(
    async (policy: string | undefined, walks: string[], options: WalkOptions & WatchOptions) => {
      const request = { folder: terminal.folder, policy, walks };
      done(
        await watching(request, options, terminal, () => playTexts(readTexts(request), options, terminal)),
      );
    },
  );
}

/**
 * Plays the walks of some texts and gives the result out; the status tells how it went.
 *
 * @param opened the names of walks whose steps are shown although they come out as expected
 */
export async function playTexts(
  texts: Texts,
  options: WalkOptions,
  terminal: Terminal,
  opened: readonly string[] = [],
): Promise<number> {
  const project = await openProject(texts);
  if ('faults' in project) return complain(project.faults, WALK_FORMATS, options, terminal);
  const { policy, input, walks, notes } = project;
  if (notes.length > 0) {
    terminal.err.write(diagnosticsText(notes, lookOf(terminal, terminal.err, options.color)));
  }
  const wanted = wantedWalks(walks, options.only);
  if ('faults' in wanted) return complain(wanted.faults, WALK_FORMATS, options, terminal);
  const stage = stageOf(policy);
  const results = wanted.walks.map((walk) => playWalk(stage, walk));
  const look = {
    ...lookOf(terminal, terminal.out, options.color),
    quiet: options.quiet === true,
    verbose: options.verbose === true ? stage : null,
    opened: options.steps === true || options.only !== undefined ? 'all' : opened,
  } as const;
  giveOutIn(WALK_FORMATS, { results, app: policy.app, input }, look, options, terminal);
  return results.every((result) => result.passed) ? STATUS.good : STATUS.found;
}

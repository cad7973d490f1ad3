import { Command } from 'commander';
import { diffPolicies } from '../core/internal.js';
import { DIFF_FORMATS } from '../render/formats.js';
import { readTexts } from './files.js';
import { complain, giveOutIn, withOutputOptions, type OutputOptions } from './output.js';
import { openProject } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

/** `cavrin diff`. */
export function diffCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('diff')
    .summary('show which login states land elsewhere after a change of policy')
    .description(
      'Tries every page under two policies, reading and writing, and tells what came out differently for whom; widened ' +
        'access is told apart from narrowed.\n' +
        'Exit status: 0 no change, 1 something changed, 2 the input is wrong.',
    )
    .argument('<old>', 'the policy before')
    .argument('<new>', 'the policy after; - reads standard input');
  return withOutputOptions(command, null, DIFF_FORMATS).action(
    async (old: string, next: string, options: OutputOptions) => {
      done(await compare(old, next, options, terminal));
    },
  );
}

async function compare(
  old: string,
  next: string,
  options: OutputOptions,
  terminal: Terminal,
): Promise<number> {
  const read = (policy: string) =>
    openProject(readTexts({ folder: terminal.folder, policy, walks: [] }, 'policy only'));
  const [before, after] = [await read(old), await read(next)];
  const faults = [before, after].flatMap((each) => ('faults' in each ? each.faults : []));
  if ('faults' in before || 'faults' in after) return complain(faults, DIFF_FORMATS, options, terminal);
  const diff = diffPolicies(before.policy, after.policy);
  const names = [old, next] as const;
  const look = lookOf(terminal, terminal.out, options.color);
  giveOutIn(DIFF_FORMATS, { diff, names }, look, options, terminal);
  return diff.changes.length === 0 ? STATUS.good : STATUS.found;
}

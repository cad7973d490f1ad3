import { Command, Option } from 'commander';
import {
  compareGrid,
  gridCsv,
  gridOf,
  isOfAccounts,
  METHODS,
  problem,
  type Method,
  type Policy,
} from '../core/internal.js';
import { COMPARISON_FORMATS, GRID_FORMATS } from '../render/formats.js';
import { printable } from '../render/style.js';
import { readText, readTexts } from './files.js';
import {
  complain,
  giveOutIn,
  withOutputOptions,
  withPolicy,
  writeWhole,
  type OutputOptions,
} from './output.js';
import { openProject } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';
import { watching, withWatch, type WatchOptions } from './watch.js';

interface GridOptions extends OutputOptions, WatchOptions {
  readonly method: Method;
  readonly accounts?: boolean;
  readonly save?: string;
  readonly against?: string;
  readonly accept?: boolean;
}

/** `cavrin grid`. */
export function gridCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = withPolicy(new Command('grid'))
    .summary('show where every login state lands on every page')
    .description(
      'Tries every page in every login state that the policy can bring about: a guest, every role, logins that ran out, were ' +
        'ended or wait for a code, people who were shut out, and flags that stand otherwise. A table that was agreed on, saved ' +
        'or written by hand, can be held against it; it has columns for roles or for accounts, and all of them.\n' +
        'Exit status: 0 done, or all as agreed; 1 something is not as agreed; 2 the input is wrong.',
    )
    .addOption(
      new Option('--method <method>', 'try this request method instead of showing the pages')
        .choices(METHODS)
        .default('GET'),
    )
    .option('--accounts', 'show columns for accounts, of each kind one, instead of roles')
    .option('--save <file>', 'also write the table as CSV, to agree on')
    .option('--against <file>', 'show only what differs from an agreed table in CSV')
    .option('--accept', 'with --against: write that table anew, as everything is now');
  return withWatch(withOutputOptions(command, null, GRID_FORMATS)).action(
    async (policy: string | undefined, options: GridOptions) => {
      const request = { folder: terminal.folder, policy, walks: [] };
      done(await watching(request, options, terminal, () => showGrid(request, options, terminal)));
    },
  );
}

async function showGrid(
  request: Parameters<typeof readTexts>[0],
  options: GridOptions,
  terminal: Terminal,
): Promise<number> {
  const project = await openProject(readTexts(request, 'policy only'));
  if ('faults' in project) return complain(project.faults, GRID_FORMATS, options, terminal);
  const { policy, input } = project;
  if (options.against !== undefined) return holdAgainst(policy, options.against, options, terminal);
  if (options.accept === true) {
    const says = '--accept writes a table anew, and none is named';
    return refuse(says, 'name it with --against', GRID_FORMATS, options, terminal);
  }
  const grid = gridOf(policy, options.method, options.accounts === true ? 'accounts' : 'roles');
  if (options.save !== undefined) writeWhole(options.save, gridCsv(grid), terminal);
  const look = lookOf(terminal, terminal.out, options.color);
  const file = input.source.file;
  giveOutIn(GRID_FORMATS, { grid, app: policy.app, file }, look, options, terminal);
  return STATUS.good;
}

function refuse(says: string, hint: string, ...rest: Tail<Parameters<typeof complain>>): number {
  return complain([problem('bad-request', { problem: says, hint }, null)], ...rest);
}

type Tail<All extends readonly unknown[]> = All extends readonly [unknown, ...infer Rest] ? Rest : never;

function holdAgainst(policy: Policy, file: string, options: GridOptions, terminal: Terminal): number {
  const { method, accept, accounts } = options;
  if (!COMPARISON_FORMATS.some(({ name }) => name === options.format)) {
    const says = `--against tells differences, which have no form ${options.format}`;
    return refuse(says, 'leave --format out, or use json', COMPARISON_FORMATS, options, terminal);
  }
  const agreed = readText(file, terminal.folder, false);
  if (!('text' in agreed)) return complain([agreed], COMPARISON_FORMATS, options, terminal);
  const isByAccounts = accounts === true || isOfAccounts(policy, agreed);
  const grid = gridOf(policy, method, isByAccounts ? 'accounts' : 'roles');
  const result = compareGrid(grid, agreed);
  if (accept === true) writeWhole(file, gridCsv(grid), terminal);
  if (!('differences' in result)) {
    const status = complain(result, COMPARISON_FORMATS, options, terminal);
    return accept === true ? STATUS.good : status;
  }
  const look = lookOf(terminal, terminal.out, options.color);
  giveOutIn(COMPARISON_FORMATS, { comparison: result, table: file }, look, options, terminal);
  if (accept === true) terminal.err.write(`${printable(file)} is written anew\n`);
  return result.differences.length === 0 || accept === true ? STATUS.good : STATUS.found;
}

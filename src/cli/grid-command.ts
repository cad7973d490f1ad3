import { Command, Option } from 'commander';
import { compareGrid, gridCsv, gridOf, METHODS, problem, type Grid, type Method } from '../core/internal.js';
import { COMPARISON_FORMATS, GRID_FORMATS } from '../render/formats.js';
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
  readonly roles?: boolean;
  readonly save?: string;
  readonly against?: string;
}

/** `cavrin grid`. */
export function gridCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = withPolicy(new Command('grid'))
    .summary('show where every login state lands on every page')
    .description(
      'Tries every page in every login state that the policy can bring about: a guest, an account of each kind, roles that ' +
        'nobody holds yet, logins that ran out, were ended or wait for a code, and flags that stand otherwise. A table that was agreed on, saved or written by hand, can be held ' +
        'against it.\n' +
        'Exit status: 0 done, or all as agreed; 1 something is not as agreed; 2 the input is wrong.',
    )
    .addOption(
      new Option('--method <method>', 'try this request method instead of showing the pages')
        .choices(METHODS)
        .default('GET'),
    )
    .option('--roles', 'show a column for each role alone, instead of one for each kind of account')
    .option('--save <file>', 'also write the table as CSV, to agree on')
    .option('--against <file>', 'show only what differs from an agreed table in CSV');
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
  const grid = gridOf(policy, options.method, options.roles === true ? 'roles' : 'accounts');
  if (options.against !== undefined) return holdAgainst(grid, options.against, options, terminal);
  if (options.save !== undefined) writeWhole(options.save, gridCsv(grid), terminal);
  const look = lookOf(terminal, terminal.out, options.color);
  const file = input.source.file;
  giveOutIn(GRID_FORMATS, { grid, app: policy.app, file }, look, options, terminal);
  return STATUS.good;
}

function holdAgainst(grid: Grid, file: string, options: GridOptions, terminal: Terminal): number {
  if (!COMPARISON_FORMATS.some(({ name }) => name === options.format)) {
    const says = `--against tells differences, which have no form ${options.format}`;
    const hint = 'leave --format out, or use json';
    return complain(
      [problem('bad-request', { problem: says, hint }, null)],
      COMPARISON_FORMATS,
      options,
      terminal,
    );
  }
  const agreed = readText(file, terminal.folder, false);
  if (!('text' in agreed)) return complain([agreed], COMPARISON_FORMATS, options, terminal);
  const result = compareGrid(grid, agreed);
  if (!('differences' in result)) return complain(result, COMPARISON_FORMATS, options, terminal);
  const look = lookOf(terminal, terminal.out, options.color);
  giveOutIn(COMPARISON_FORMATS, { comparison: result, table: file }, look, options, terminal);
  return result.differences.length === 0 ? STATUS.good : STATUS.found;
}

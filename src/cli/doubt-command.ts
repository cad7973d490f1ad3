import { Command } from 'commander';
import { isOfAccounts, mistakesIn, type Doubted, type Seconds, type Source } from '../core/internal.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { scorePercent, type ShownDoubt } from '../render/doubt/doubt-text.js';
import { DOUBT_FORMATS } from '../render/formats.js';
import { count, printable } from '../render/style.js';
import { walksYaml } from '../render/walk-yaml.js';
import { judgeAll } from './doubt-jobs.js';
import { readText, readTexts, type Request } from './files.js';
import { complain, giveOutIn, mustBeWritable, withFiles, withOutputOptions, writeWhole } from './output.js';
import { readDuration } from './prove-options.js';
import { openProject } from './project.js';
import { withShare, type ShareOptions } from './share.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

interface DoubtOptions extends ShareOptions {
  readonly against?: string;
  readonly mostTime?: Seconds;
}

/** `cavrin doubt`. */
export function doubtCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('doubt')
    .summary('which mistakes in the policy nobody would notice, and walks that would')
    .description(
      'Puts the policy otherwise in one place at a time, as people get it wrong: a rule left out, an audience wider by a role, ' +
        'a limit twice as long, a careless cookie. For each it is told whether check, the walks, an agreed table or the laws and ' +
        'promises notice; for what nobody notices, what it would let happen.\n' +
        'Exit status: 0 told, 1 less is noticed than --at-least asks for, 2 the input is wrong, 3 not all was looked at in time.',
    );
  withShare(
    withFiles(command),
    { is: 'noticed', such: '95%' },
    'write walks that come out otherwise with what nobody notices, the shortest first',
  )
    .option('--against <table>', 'a table of cavrin grid that was agreed on, which watches too')
    .option(
      '--most-time <duration>',
      'look at so many as there is time for, such as 1m, spread over the policy',
      readDuration,
    );
  return withOutputOptions(command, 'no progress', DOUBT_FORMATS).action(
    async (policy: string | undefined, walks: string[], options: DoubtOptions) => {
      done(await doubt({ folder: terminal.folder, policy, walks }, options, terminal));
    },
  );
}

async function doubt(request: Request, options: DoubtOptions, terminal: Terminal): Promise<number> {
  if (options.propose !== undefined) mustBeWritable(options.propose, terminal);
  const table = options.against === undefined ? null : readText(options.against, terminal.folder, false);
  if (table !== null && 'code' in table) return complain([table], DOUBT_FORMATS, options, terminal);
  const texts = readTexts(request);
  const project = await openProject(texts);
  if ('faults' in project) return complain(project.faults, DOUBT_FORMATS, options, terminal);
  const { policy, input, walks, notes } = project;
  if (notes.length > 0) {
    terminal.err.write(diagnosticsText(notes, lookOf(terminal, terminal.err, options.color)));
  }
  const agreed = table === null ? null : { source: table, by: columnsOf(table, policy) };
  const { length } = mistakesIn(policy, input.value);
  const given = { policy: input.source, walks: texts.walks, agreed };
  const most = options.mostTime ?? null;
  const { doubted: all, left } = await judgeAll(
    given,
    length,
    most,
    progressOn(terminal, length, options.quiet === true),
  );
  const told = all.filter(({ isSame }) => !isSame);
  const shown: ShownDoubt = {
    app: policy.app,
    input,
    walks: walks.length,
    hasTable: table !== null,
    judged: told,
    same: all.length - told.length,
    left,
  };
  giveOutIn(DOUBT_FORMATS, shown, lookOf(terminal, terminal.out, options.color), options, terminal);
  if (options.propose !== undefined) propose(told, options.propose, terminal);
  const percentNoticed = scorePercent(shown);
  const least = options.atLeast ?? 0;
  if (percentNoticed >= least) return left > 0 ? STATUS.unsettled : STATUS.good;
  terminal.err.write(`${percentNoticed} % of the mistakes would be noticed, and ${least} % are asked for\n`);
  return STATUS.found;
}

function columnsOf(table: Source, policy: Parameters<typeof isOfAccounts>[0]): 'accounts' | 'roles' {
  return isOfAccounts(policy, table) ? 'accounts' : 'roles';
}

/** Shows on a terminal how far it is, on one line that is gone once all is judged. */
function progressOn({ err }: Terminal, all: number, quiet: boolean): (judged: number) => void {
  if (!err.isTTY || quiet) return () => undefined;
  return (judged) => {
    err.write(judged < all ? `\r\u001b[K${judged} of ${count(all, 'change')}` : '\r\u001b[K');
  };
}

function propose(told: readonly Doubted[], file: string, terminal: Terminal): void {
  const walks = new Map<
    string,
    { readonly name: string; readonly steps: NonNullable<Doubted['shows']>['steps'] }
  >();
  const missed = told.flatMap(({ by, shows, where, what }) =>
    by.length > 0 || shows === null ? [] : [{ shows, where, what }],
  );
  for (const { shows, where, what } of missed.sort((a, b) => a.shows.steps.length - b.shows.steps.length)) {
    const key = JSON.stringify(shows.steps);
    if (!walks.has(key)) {
      walks.set(key, { name: `To confirm: would notice ${where}: ${what}`, steps: shows.steps });
    }
  }
  writeWhole(file, walksYaml([...walks.values()], HEAD), terminal);
  terminal.err.write(
    `wrote ${count(walks.size, 'walk')} to ${printable(file)}, for ${count(missed.length, 'mistake')}\n`,
  );
}

const HEAD = [
  'Walks that come out otherwise where the policy is got wrong as their names say. Each step expects what comes out today:',
  'read it, correct the policy or the step where that is wrong, and give the walk a name of its own.',
];

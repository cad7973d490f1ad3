import { Command, CommanderError } from 'commander';
import { Secrets } from '../core/internal.js';
import { readTexts } from './files.js';
import { guardPrinting } from './printing.js';
import { inert } from '../render/style.js';
import { CannotWrite, reasonOf, Refused, STATUS, Unfinished } from './status.js';
import type { Terminal } from './terminal.js';

declare const CAVRIN_VERSION: string;

/** Sets up the program and runs it; gives the exit status. Commands load only what they use. */
async function run(argv: readonly string[], terminal: Terminal): Promise<number> {
  let status: number = STATUS.good;
  const done = (result: number) => {
    status = result;
  };
  const program = new Command('cavrin')
    .description(
      'Plays navigation sequences against the login, session and access rules of a web app, and shows that every login ' +
        'state lands where it is allowed, or where it does not.',
    )
    .version(CAVRIN_VERSION, '--version', 'show the version')
    .helpOption('-h, --help', 'show what can be called and how')
    .helpCommand('help [command]', 'show what can be called, or how one command is');
  try {
    if (argv.length === 0) return await welcome(program, terminal, done);
    mustSaySomething(argv);
    if (argv[0] !== '--version') await addCommands(program, terminal, done);
    settle(program, terminal);
    await program.parseAsync(argv, { from: 'user' });
    return status;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? STATUS.good : STATUS.wrong;
    throw error;
  }
}

/** A word that is empty is a variable that was not set, and no name of a file or folder. What follows `--` is left as it is. */
function mustSaySomething(argv: readonly string[]): void {
  const end = argv.indexOf('--');
  const at = argv.slice(0, end < 0 ? argv.length : end).indexOf('');
  if (at < 0) return;
  const before = at === 0 ? 'the first word' : `the word after ${argv[at - 1] ?? ''}`;
  throw new Refused(`${before} is empty: write what is meant, or leave it out`);
}

/** What somebody sees who calls the program by its name alone: what it can do, and where to begin. */
async function welcome(
  program: Command,
  terminal: Terminal,
  done: (status: number) => void,
): Promise<number> {
  await addCommands(program, terminal, done);
  const { policy } = readTexts({ folder: terminal.folder, policy: undefined, walks: [] }, 'policy only');
  const next =
    policy === null
      ? 'There is no cavrin.yaml here or in any folder above. Write a first one with: cavrin init'
      : `There is a policy here, ${policy.file}. Look for what is wrong in it with: cavrin check`;
  terminal.err.write(`${program.helpInformation()}\n${next}\n`);
  return STATUS.wrong;
}

async function addCommands(
  program: Command,
  terminal: Terminal,
  done: (status: number) => void,
): Promise<void> {
  const modules = await Promise.all([
    import('./init-command.js').then((module) => module.initCommand),
    import('./draft-command.js').then((module) => module.draftCommand),
    import('./check-command.js').then((module) => module.checkCommand),
    import('./walk-command.js').then((module) => module.walkCommand),
    import('./try-command.js').then((module) => module.tryCommand),
    import('./why-command.js').then((module) => module.whyCommand),
    import('./grid-command.js').then((module) => module.gridCommand),
    import('./diff-command.js').then((module) => module.diffCommand),
    import('./prove-command.js').then((module) => module.proveCommand),
    import('./report-command.js').then((module) => module.reportCommand),
    import('./draw-command.js').then((module) => module.drawCommand),
    import('./coverage-command.js').then((module) => module.coverageCommand),
    import('./doubt-command.js').then((module) => module.doubtCommand),
    import('./serve-command.js').then((module) => module.serveCommand),
    import('./live-command.js').then((module) => module.liveCommand),
    import('./schema-command.js').then((module) => module.schemaCommand),
    import('./demo-command.js').then((module) => module.demoCommand),
    import('./editor-command.js').then((module) => module.editorCommand),
    import('./completion-command.js').then((module) => module.completionCommand),
  ]);
  for (const command of modules) program.addCommand(command(terminal, done));
}

/** Commander ends the process by itself unless told, and tells of words of the call as they are; commands that were added do not inherit this. */
function settle(program: Command, { err }: Terminal): void {
  const writeErr = (text: string) => err.write(text.split('\n').map(inert).join('\n'));
  for (const command of [program, ...program.commands]) {
    command
      .exitOverride()
      .configureOutput({ writeErr })
      .helpOption('-h, --help', 'show what can be called and how');
  }
}

/** What is wrong is told in one line; only what nobody could have foreseen comes with where it happened. */
function fail(error: unknown): void {
  const known = error instanceof Refused;
  const text =
    error instanceof Error ? (known ? inert(error.message) : (error.stack ?? error.message)) : String(error);
  process.stderr.write(`cavrin: ${known ? '' : 'a fault of its own, please report it: '}${text}\n`);
  process.exitCode = error instanceof Unfinished ? STATUS.unsettled : STATUS.wrong;
}

/**
 * A reader that has seen enough, as `head` has, closes the pipe: that is no error, and the status stays that of the result.
 * Where the result cannot be written for any other reason it is lost, and that is the status.
 */
let isOutputLost = false;
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE' || isOutputLost) return;
  isOutputLost = true;
  fail(
    new CannotWrite(
      'standard output',
      reasonOf(error),
      'send it to a place with room, or name a file with --output',
    ),
  );
});
process.on('exit', () => {
  if (isOutputLost) process.exitCode = STATUS.wrong;
});
// Nobody is left to tell, and what is under way goes on.
process.stderr.on('error', () => undefined);

/** The folder that the program was called in. */
function currentFolder(): string {
  try {
    return process.cwd();
  } catch {
    throw new Refused('the current folder is gone: change to one that exists');
  }
}

async function main(): Promise<void> {
  const { stdout: out, stderr: err, env } = process;
  const secrets = new Secrets();
  guardPrinting(out, err, secrets);
  const terminal = { folder: currentFolder(), env, out, err, secrets };
  process.exitCode = await run(process.argv.slice(2), terminal);
}

main().catch(fail);

import { renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { InvalidArgumentError, Option, type Command } from 'commander';
import type { Diagnostic } from '../core/index.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { findingsJson } from '../render/findings-json.js';
import { CannotWrite, STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

/** The options that every command with a result has. */
export interface OutputOptions {
  readonly format: string;
  readonly output?: string;
  readonly color?: boolean;
  readonly quiet?: boolean;
}

/** Declares the shared options on a command. */
export function withOutputOptions(
  command: Command,
  quiet: string | null,
  formats: readonly string[] = ['text', 'json'],
): Command {
  command
    .addOption(new Option('--format <format>', 'form of the result').choices(formats).default('text'))
    .option('--output <file>', 'write the result to a file instead of standard output')
    .option('--color', 'colour the text even where it goes to no terminal')
    .option('--no-color', 'no colours');
  return quiet === null ? command : command.option('--quiet', quiet);
}

/** Reads the value of an option that is a whole number. */
export function numberWithin(least: number, most: number): (text: string) => number {
  return (text) => {
    const number = Number(text);
    if (!/^\d{1,9}$/.test(text) || number < least || number > most) {
      throw new InvalidArgumentError(`give a number from ${least} to ${most}`);
    }
    return number;
  };
}

/** Declares the policy that a command reads. */
export function withPolicy(command: Command): Command {
  return command.argument(
    '[policy]',
    'the policy; - reads standard input (default: cavrin.yaml here or in the nearest parent)',
  );
}

/** Declares the policy and the walks that a command reads. */
export function withFiles(command: Command): Command {
  return withPolicy(command).argument(
    '[walks...]',
    'files of walks (default: walks/*.yaml beside the policy)',
  );
}

/** Gives a result out. */
export function giveOut(result: string, options: OutputOptions, terminal: Terminal): void {
  if (options.output === undefined) terminal.out.write(result);
  else writeWhole(options.output, result, terminal);
}

/** Writes a file whole or not at all: it appears under its name only once it is complete. */
export function writeWhole(name: string, result: string, terminal: Terminal): void {
  begun(name, result, terminal, renameSync);
}

/** Tells at once where a file cannot be written that is to be written after long work. */
export function mustBeWritable(name: string, terminal: Terminal): void {
  begun(name, '', terminal, (partial) => {
    rmSync(partial);
  });
}

/** Writes a file beside the one that is meant, and does the rest. */
function begun(
  name: string,
  content: string,
  terminal: Terminal,
  end: (partial: string, file: string) => void,
): void {
  const file = resolve(terminal.folder, name);
  if (statSync(file, { throwIfNoEntry: false })?.isDirectory() === true) {
    throw new CannotWrite(name, 'it is a folder');
  }
  const partial = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  try {
    writeFileSync(partial, content);
    end(partial, file);
  } catch (error) {
    rmSync(partial, { force: true });
    throw new CannotWrite(name, (error as NodeJS.ErrnoException).code ?? String(error));
  }
}

/** Tells what is wrong with the input, on standard error and in the JSON that was asked for, and gives the status for it. */
export function complain(faults: readonly Diagnostic[], options: OutputOptions, terminal: Terminal): number {
  if (options.format === 'json') giveOut(findingsJson(faults), options, terminal);
  terminal.err.write(diagnosticsText(faults, lookOf(terminal, terminal.err, options.color)));
  return STATUS.wrong;
}

import {
  accessSync,
  constants,
  lstatSync,
  readlinkSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  type Stats,
} from 'node:fs';
import { dirname, resolve } from 'node:path';
import { InvalidArgumentError, Option, type Command } from 'commander';
import type { Diagnostic } from '../core/internal.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import type { Formats, OutputFormat } from '../render/formats.js';
import type { Look } from '../render/style.js';
import { writePart } from './part-files.js';
import { CannotWrite, reasonOf, STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

declare const CAVRIN_VERSION: string;

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
  formats: readonly { readonly name: string }[],
): Command {
  const names = formats.map(({ name }) => name);
  command
    .addOption(new Option('--format <format>', 'form of the result').choices(names).default('text'))
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

/** Reads the value of an option that is a share of a whole: `90%`, or `90`. */
export function percent(text: string): number {
  const found = /^(\d{1,3}(?:\.\d{1,3})?)\s*%?$/.exec(text);
  const value = Number(found?.[1] ?? NaN);
  if (!(value <= 100)) throw new InvalidArgumentError('give a share such as 90%');
  return value;
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
  else writeWhole(options.output, terminal.secrets.cut(result), terminal);
}

/**
 * Writes a file whole or not at all: it appears under its name only once it is complete. A link is followed; a file that is
 * there keeps its mode; a device or a pipe is written straight into.
 *
 * @throws CannotWrite with the reason
 */
export function writeWhole(name: string, result: string | Uint8Array, terminal: Terminal): void {
  write(name, terminal, (target) => {
    if (target.kind === 'straight') writeFileSync(target.file, result);
    else replace(target, result, renameSync);
  });
}

/**
 * Tells at once where a file cannot be written that is to be written after long work.
 *
 * @throws CannotWrite with the reason
 */
export function mustBeWritable(name: string, terminal: Terminal): void {
  write(name, terminal, (target) => {
    if (target.kind !== 'straight') {
      replace(target, '', (part) => {
        rmSync(part);
      });
    }
  });
}

/** Where something is written: straight into a device or a pipe, or in the place of a plain file. */
type Target =
  | { readonly kind: 'straight'; readonly file: string }
  | { readonly kind: 'plain'; readonly file: string; readonly was: Stats | null };

function write(name: string, terminal: Terminal, act: (target: Target) => void): void {
  try {
    act(targetOf(resolve(terminal.folder, name)));
  } catch (error) {
    throw new CannotWrite(name, reasonOf(error));
  }
}

/** What a name leads to, links followed. */
function targetOf(name: string): Target {
  const was = statSync(name, { throwIfNoEntry: false });
  if (was === undefined) return { kind: 'plain', file: endOfLinks(name), was: null };
  if (was.isDirectory()) throw Object.assign(new Error(), { code: 'EISDIR' });
  if (!was.isFile()) return { kind: 'straight', file: name };
  // Putting a file in its place would go round its being for reading only.
  accessSync(name, constants.W_OK);
  return { kind: 'plain', file: realpathSync(name), was };
}

/** A link may lead to a file that is still to be made. */
function endOfLinks(name: string): string {
  const isLink = lstatSync(name, { throwIfNoEntry: false })?.isSymbolicLink() === true;
  return isLink ? endOfLinks(resolve(dirname(name), readlinkSync(name))) : name;
}

/** Writes what is to stand in the place of a plain file beside it, and does the rest. */
function replace(
  { file, was }: Extract<Target, { kind: 'plain' }>,
  content: string | Uint8Array,
  end: (part: string, file: string) => void,
): void {
  const part = writePart(file, content, was?.mode ?? null);
  try {
    end(part, file);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
}

/** Gives a result out in the form that was asked for. */
export function giveOutIn<Result, Shown extends Look>(
  formats: Formats<Result, Shown>,
  result: Result,
  look: Shown,
  options: OutputOptions,
  terminal: Terminal,
): void {
  const format = formats.find(({ name }) => name === options.format);
  if (format === undefined) throw new Error(`there is no form ${options.format}`);
  giveOut(format.write(result, look), options, terminal);
}

/** Tells what is wrong with the input, on standard error and in the form that was asked for, and gives the status for it. */
export function complain(
  faults: readonly Diagnostic[],
  formats: readonly Pick<OutputFormat<never>, 'name' | 'faults'>[],
  options: Pick<OutputOptions, 'format' | 'output' | 'color'>,
  terminal: Terminal,
): number {
  const written = formats.find(({ name }) => name === options.format)?.faults?.(faults, CAVRIN_VERSION);
  if (written !== undefined) giveOut(written, options, terminal);
  terminal.err.write(diagnosticsText(faults, lookOf(terminal, terminal.err, options.color)));
  return STATUS.wrong;
}

import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createSupportsHyperlinks } from 'supports-hyperlinks';
import type { Secrets } from '../core/internal.js';
import type { Look } from '../render/style.js';

/** What a command knows of the world it runs in. */
export interface Terminal {
  readonly folder: string;
  readonly env: NodeJS.ProcessEnv;
  readonly out: NodeJS.WriteStream;
  readonly err: NodeJS.WriteStream;
  /** What is cut out of all that is printed. */
  readonly secrets: Secrets;
}

/** The narrowest layout; a narrower terminal wraps it. */
const LEAST_WIDTH = 80;
/** The width of a text that goes to no terminal. */
const PLAIN_WIDTH = 120;

/**
 * How a text on a stream is to look. Colour follows the option, then NO_COLOR and FORCE_COLOR, then whether the stream is
 * a terminal.
 */
export function lookOf(terminal: Terminal, stream: NodeJS.WriteStream, color: boolean | undefined): Look {
  const { env } = terminal;
  const columns = stream.isTTY ? stream.columns : Number(env['COLUMNS'] ?? PLAIN_WIDTH);
  const width = Math.max(LEAST_WIDTH, Number.isInteger(columns) && columns > 0 ? columns : PLAIN_WIDTH);
  const look = { width, color: color ?? colorByEnvironment(env, stream.isTTY) };
  if (!stream.isTTY || !createSupportsHyperlinks(stream)) return look;
  return { ...look, linkTo: (file, line) => `${pathToFileURL(resolve(terminal.folder, file)).href}#${line}` };
}

function colorByEnvironment(env: NodeJS.ProcessEnv, isTerminal: boolean): boolean {
  if (env['NO_COLOR'] !== undefined && env['NO_COLOR'] !== '') return false;
  if (env['FORCE_COLOR'] !== undefined) return env['FORCE_COLOR'] !== '0';
  return isTerminal && env['TERM'] !== 'dumb';
}

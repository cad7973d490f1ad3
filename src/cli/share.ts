import type { Command } from 'commander';
import { percent, type OutputOptions } from './output.js';

/** The options of a command that tells a share of a whole, and proposes walks for the rest. */
export interface ShareOptions extends OutputOptions {
  /** In percent. */
  readonly atLeast?: number;
  readonly propose?: string;
}

/**
 * Declares them.
 *
 * @param what what is done to the share, such as `touched`, and a share to ask for
 * @param proposes what is written into the file of proposals
 */
export function withShare(command: Command, what: { is: string; such: string }, proposes: string): Command {
  return command
    .option('--at-least <percent>', `fail where less than this is ${what.is}, such as ${what.such}`, percent)
    .option('--propose <file>', proposes);
}

import { InvalidArgumentError, type Command } from 'commander';
import { MOST_STATES, parseDuration, type Seconds } from '../core/internal.js';
import { numberWithin, type OutputOptions } from './output.js';

/** How much of a proof is worked out, with what. */
export interface WorkOptions extends OutputOptions {
  readonly mostStates?: number;
  readonly mostTime?: Seconds;
  readonly cores?: number;
  readonly cache?: string | false;
}

/** Declares what every command that proves something takes. */
export function withWorkOptions(command: Command): Command {
  return command
    .option(
      '--most-states <number>',
      `leave open what is not settled after so many states of a scene (default: ${MOST_STATES})`,
      numberWithin(1, 100_000_000),
    )
    .option(
      '--most-time <duration>',
      'leave open what is not settled after this time, such as 30s',
      readDuration,
    )
    .option(
      '--cores <number>',
      'scenes that are looked at at a time (default: one a core)',
      numberWithin(1, 64),
    )
    .option(
      '--cache <folder>',
      'where results of scenes are kept, so that only what a change touches is worked out anew (default: cavrin in the cache folder of your home)',
    )
    .option('--no-cache', 'keep no results, and use none');
}

export function readDuration(text: string): Seconds {
  const seconds = parseDuration(text);
  if (typeof seconds === 'string' || seconds === 0) {
    throw new InvalidArgumentError('give a duration such as 30s or 5m');
  }
  return seconds;
}

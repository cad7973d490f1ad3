import { count } from '../render/style.js';
import type { OutputOptions } from './output.js';
import type { ProveJobs, Sum } from './prove-jobs.js';
import type { Terminal } from './terminal.js';

/** How often the line is written anew, in milliseconds. */
const EVERY = 200;

/** What there is to settle. */
export interface Work {
  readonly scenes: number;
  readonly goals: number;
}

/** Shows on a terminal how far a proof is, on one line that is gone afterwards. Gives what takes it away. */
export function showProgress(
  { err }: Terminal,
  { quiet }: OutputOptions,
  jobs: ProveJobs,
  work: Work,
): () => void {
  if (!err.isTTY || quiet === true) return () => undefined;
  const started = Date.now();
  const timer = setInterval(() => {
    const line = progressLine(jobs.sum, work, (Date.now() - started) / 1000);
    err.write(`\r\u001b[K${line.slice(0, Math.max(20, err.columns - 1))}`);
  }, EVERY);
  return () => {
    clearInterval(timer);
    err.write('\r\u001b[K');
  };
}

/**
 * How far a proof is, what matters most first: a narrow terminal cuts the end off.
 *
 * @param seconds since it was begun
 */
export function progressLine(
  { done, states, transitions, broken, open, looksFor }: Sum,
  { scenes, goals }: Work,
  seconds: number,
): string {
  const rate = Math.round(transitions / Math.max(seconds, 0.001));
  const unsettled = [...open].filter((id) => !broken.has(id)).length;
  const parts = [
    `${done} of ${count(scenes, 'scene')}`,
    `${goals - broken.size - unsettled} of ${goals} hold so far`,
    ...(broken.size === 0 ? [] : [`broken: ${[...broken].join(', ')}`]),
    ...(unsettled === 0 ? [] : [`${unsettled} not settled`]),
    ...(looksFor.size === 0 ? [] : [`looking for the shortest walk: ${[...looksFor].join(', ')}`]),
    `${states} states`,
    `${transitions} transitions`,
    `${rate}/s`,
  ];
  return `${parts.join(', ')}; Ctrl-C ends`;
}

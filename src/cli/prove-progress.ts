import type { OutputOptions } from './output.js';
import type { ProveJobs } from './prove-jobs.js';
import type { Terminal } from './terminal.js';

/** How often the line is written anew, in milliseconds. */
const EVERY = 200;

/** Shows on a terminal how far a proof is, on one line that is gone afterwards. Gives what takes it away. */
export function showProgress(
  { err }: Terminal,
  { quiet }: OutputOptions,
  work: ProveJobs,
  scenes: number,
): () => void {
  if (!err.isTTY || quiet === true) return () => undefined;
  const started = Date.now();
  const timer = setInterval(() => {
    const { done, states, transitions, outcomes } = work.sum;
    const rate = Math.round((transitions / (Date.now() - started)) * 1000);
    const broken = new Set<string>();
    for (const outcome of outcomes) {
      for (const [goal, { verdict }] of outcome?.findings ?? []) if (verdict === 'broken') broken.add(goal);
    }
    const found = broken.size === 0 ? 'nothing broken so far' : `broken: ${[...broken].join(', ')}`;
    const line = `${done} of ${scenes} scenes, ${states} states, ${transitions} transitions, ${rate}/s; ${found}; Ctrl-C ends`;
    err.write(`\r\u001b[K${line.slice(0, Math.max(20, err.columns - 1))}`);
  }, EVERY);
  return () => {
    clearInterval(timer);
    err.write('\r\u001b[K');
  };
}

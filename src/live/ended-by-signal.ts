import { RunEnded } from './run-ended.js';

/** What asks a program to end: a key, a supervisor, a terminal that was closed. */
const SIGNALS = ['SIGINT', 'SIGTERM', 'SIGHUP'] as const;

/** That somebody ended a run before it was done. */
export class Interrupted extends RunEnded {}

/**
 * Does something that a signal ends.
 *
 * @param stop what ends whatever is under way; the deed fails of it, and puts away what it has
 * @throws Interrupted once it was ended
 */
export async function endedBySignal<Result>(deed: () => Promise<Result>, stop: () => void): Promise<Result> {
  const ended = new AbortController();
  const end = () => {
    ended.abort();
    stop();
  };
  for (const signal of SIGNALS) process.on(signal, end);
  try {
    const result = await deed();
    if (!ended.signal.aborted) return result;
  } catch (error) {
    if (!ended.signal.aborted) throw error;
  } finally {
    for (const signal of SIGNALS) process.off(signal, end);
  }
  throw new Interrupted(
    'interrupted: what was started is stopped, and nothing more was asked of the app',
    null,
  );
}

import { join } from 'node:path';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Doubted, InDoubt, Seconds, Source } from '../core/internal.js';

/** A policy in doubt as it is given to another core. */
export interface InDoubtTexts {
  readonly policy: Source;
  readonly walks: readonly Source[];
  readonly agreed: InDoubt['agreed'];
}

/** A mistake by its number, as it was judged. */
export interface Judged {
  readonly index: number;
  readonly doubted: Doubted | null;
}

/** What was judged in the time that there was. */
export interface JudgedAll {
  /** Those that could be written, in their order. */
  readonly doubted: readonly Doubted[];
  /** How many were not looked at. */
  readonly left: number;
}

/**
 * Judges mistakes on all cores. Where the time is not enough, those that were judged are spread over the policy.
 *
 * @param mistakes how many there are
 * @param most the seconds after which no more are begun; null for no limit
 * @param tell is told how many are judged
 */
export async function judgeAll(
  texts: InDoubtTexts,
  mistakes: number,
  most: Seconds | null,
  tell: (judged: number) => void,
): Promise<JudgedAll> {
  const found: (Doubted | null)[] = Array.from({ length: mistakes }, () => null);
  const order = most === null ? found.map((_, index) => index) : spreadOver(mistakes);
  const until = most === null ? Infinity : Date.now() + most * 1000;
  let [next, done] = [0, 0];
  const workers = Array.from(
    { length: Math.max(1, Math.min(availableParallelism(), mistakes)) },
    () => new Worker(join(import.meta.dirname, 'doubt-worker.cjs'), { workerData: texts }),
  );
  try {
    await Promise.all(
      workers.map(
        (worker) =>
          new Promise<void>((settle, fail) => {
            const ask = () => {
              const index = Date.now() < until ? order[next] : undefined;
              if (index === undefined) {
                settle();
                return;
              }
              next += 1;
              worker.postMessage(index);
            };
            worker.on('message', ({ index, doubted }: Judged) => {
              found[index] = doubted;
              tell(++done);
              ask();
            });
            worker.on('error', fail);
            ask();
          }),
      ),
    );
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
  return { doubted: found.filter((each) => each !== null), left: mistakes - done };
}

/** All numbers below a limit, any first few of them spread evenly: each the golden ratio further round. */
function spreadOver(limit: number): number[] {
  const place = (index: number) => (index * 0.618_033_988_75) % 1;
  return Array.from({ length: limit }, (_, index) => index).sort((a, b) => place(a) - place(b));
}

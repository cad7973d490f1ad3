import { join } from 'node:path';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Doubted, InDoubt, Source } from '../core/internal.js';

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

/**
 * Judges so many mistakes on all cores, and gives those that could be written in their order.
 *
 * @param tell is told how many are judged
 */
export async function judgeAll(
  texts: InDoubtTexts,
  mistakes: number,
  tell: (judged: number) => void,
): Promise<Doubted[]> {
  const found: (Doubted | null)[] = Array.from({ length: mistakes }, () => null);
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
              if (next < mistakes) worker.postMessage(next++);
              else settle();
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
  return found.filter((each) => each !== null);
}

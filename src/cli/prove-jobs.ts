import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Finding, Job, Progress, SceneOutcome, Source } from '../core/internal.js';

export type ToWorker =
  | { readonly kind: 'job'; readonly file: string; readonly text: string; readonly job: Job }
  | { readonly kind: 'end' };

export type ToMain =
  | { readonly kind: 'progress'; readonly progress: Progress }
  | { readonly kind: 'outcome'; readonly outcome: SceneOutcome };

/** How far all jobs are. */
export interface Sum {
  readonly done: number;
  readonly states: number;
  readonly transitions: number;
  /** The goals that were found to be missed, and those that a scene left open. */
  readonly broken: ReadonlySet<string>;
  readonly open: ReadonlySet<string>;
  /** The goals for which the shortest walks that miss them are looked for. */
  readonly looksFor: ReadonlySet<string>;
}

/** How long a worker may take to end once it is told to, in milliseconds. */
const LONGEST_END = 3_000;

/** Settles scenes on several cores, each on one. */
export class ProveJobs {
  private readonly outcomes: (SceneOutcome | null)[];
  private readonly progress = new Map<number, Progress>();
  private readonly workers: Worker[] = [];
  private next = 0;
  private isEnded = false;

  /** @param known what came of each job, where that is known already */
  constructor(
    private readonly source: Source,
    private readonly jobs: readonly Job[],
    known: readonly (SceneOutcome | null)[],
  ) {
    this.outcomes = [...known];
  }

  get sum(): Sum {
    const done = this.outcomes.flatMap((outcome) => outcome ?? []);
    const running = [...this.progress.values()];
    const all = [...done, ...running];
    const found = (verdict: Finding['verdict']) =>
      done.flatMap(({ findings }) =>
        [...findings].flatMap(([id, each]) => (each.verdict === verdict ? id : [])),
      );
    return {
      done: done.length,
      states: all.reduce((sum, { states }) => sum + states, 0),
      transitions: all.reduce((sum, { transitions }) => sum + transitions, 0),
      broken: new Set([...found('broken'), ...running.flatMap(({ broken }) => broken)]),
      open: new Set(found('open')),
      looksFor: new Set(running.flatMap(({ looksFor }) => looksFor ?? [])),
    };
  }

  /** Works on so many cores at most, until all is done or it is ended. */
  async run(cores: number): Promise<readonly (SceneOutcome | null)[]> {
    const left = this.outcomes.filter((outcome) => outcome === null).length;
    const hands = Array.from({ length: Math.min(cores, left) }, () => this.work());
    try {
      await Promise.all(hands);
    } finally {
      // Where one fails the others must not go on behind it.
      await Promise.all(this.workers.map((worker) => worker.terminate()));
    }
    return this.outcomes;
  }

  /** Ends as soon as what is being looked at allows, which is not waited for long; what was found by then is kept. */
  end(): void {
    this.isEnded = true;
    for (const worker of this.workers) worker.postMessage({ kind: 'end' } satisfies ToWorker);
    setTimeout(() => {
      for (const worker of this.workers) void worker.terminate();
    }, LONGEST_END).unref();
  }

  private async work(): Promise<void> {
    const worker = new Worker(join(import.meta.dirname, 'prove-worker.cjs'));
    this.workers.push(worker);
    while (!this.isEnded && this.next < this.jobs.length) {
      const at = this.next++;
      if (this.outcomes[at] !== null) continue;
      this.outcomes[at] = await this.settle(worker, at);
      this.progress.delete(at);
    }
  }

  /** Null where the worker was ended before it came to an end by itself. */
  private settle(worker: Worker, at: number): Promise<SceneOutcome | null> {
    const job = this.jobs[at];
    if (job === undefined) throw new Error(`there is no job ${at}`);
    return new Promise((settle, fail) => {
      const hear = (message: ToMain) => {
        if (message.kind === 'progress') this.progress.set(at, message.progress);
        else {
          done(() => {
            settle(message.outcome);
          });
        }
      };
      const failed = (error: unknown) => {
        done(() => {
          fail(error instanceof Error ? error : new Error(String(error)));
        });
      };
      const exited = () => {
        done(() => {
          settle(null);
        });
      };
      const done = (then: () => void) => {
        worker.off('message', hear);
        worker.off('error', failed);
        worker.off('exit', exited);
        then();
      };
      worker.on('message', hear);
      worker.on('error', failed);
      worker.on('exit', exited);
      const { file, text } = this.source;
      worker.postMessage({ kind: 'job', file, text, job } satisfies ToWorker);
    });
  }
}

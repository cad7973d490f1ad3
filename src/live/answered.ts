import { RunEnded } from './run-ended.js';

/** Counts what an app answers. */
export class Answered {
  all = 0;
  private failed = 0;

  add(status: number): void {
    this.all += 1;
    if (status >= 500) this.failed += 1;
  }

  /**
   * Whether anything can be judged by what came.
   *
   * @throws RunEnded where every answer is a failure of the server
   */
  mustHope(): void {
    if (this.all === 0 || this.failed < this.all) return;
    throw new RunEnded(
      `the app answered all of the first ${this.all} requests with a status of 500 or more`,
      'mend the app first, or look at the address in live.yaml',
    );
  }
}

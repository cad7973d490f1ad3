import type { Step } from '../steps/walk.js';

/** A walk that comes out otherwise with the mistake: what it would let happen. */
export interface TellingWalk {
  readonly steps: readonly Step[];
  /** What came out before, and what with the mistake, in words. */
  readonly before: string;
  readonly after: string;
}

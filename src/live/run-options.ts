import type { Driver } from '../core/internal.js';
import type { Surroundings } from './subject.js';

/** How walks are played. */
export interface RunOptions extends Surroundings {
  /** Whether each walk has the app to itself, as slow as that is. */
  readonly oneByOne: boolean;
  /** By what walks are played; `auto`: by requests where they tell all, else in a browser. */
  readonly driver: 'auto' | Driver;
  /** Tells how far the run is. */
  progress(state: RunProgress): void;
  /** Tells something beforehand. */
  note(text: string): void;
}

export interface RunProgress {
  readonly walks: number;
  readonly all: number;
  readonly steps: number;
  readonly differing: number;
}

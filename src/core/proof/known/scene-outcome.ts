// Step 7 of docs/proof-method.md: what is known already.

import type { Cast } from '../choices/cast.js';
import type { Exposure } from '../exposure/exposure.js';
import type { Finding } from '../search/scene-proof.js';

/** A scene that is to be settled. */
export interface Job {
  readonly cast: Cast;
  /** The states after which what is not settled yet is left open. */
  readonly most: number;
  /** Whether the exposure bounds are asked for too; the cast must then be one person alone. */
  readonly withExposures: boolean;
}

/** What came of one scene. */
export interface SceneOutcome {
  readonly cast: Cast;
  readonly states: number;
  readonly transitions: number;
  /** Kinds of addresses, and of all requests to them how many classes are answered alike. */
  readonly addresses: number;
  readonly requests: number;
  /** The kinds of steps that were tried. */
  readonly verbs: readonly string[];
  /** By the id of the goal; a goal that is not there was not settled. */
  readonly findings: ReadonlyMap<string, Finding>;
  /** Those of a person alone; null where they were not asked for, or not everything was settled. */
  readonly exposures: readonly Exposure[] | null;
  /** Whether it was ended before everything was settled. */
  readonly isInterrupted: boolean;
}

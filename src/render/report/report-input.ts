import {
  positionOf,
  type Counterexample,
  type Diagnostic,
  type Grid,
  type Landing,
  type Limit,
  type Path,
  type Place,
  type RowReasons,
  type StateMap,
  type StepResult,
  type WalkResult,
} from '../../core/internal.js';
import { html, type Html } from '../html.js';
import type { LiveJson } from '../json-formats.js';
import type { Proof } from '../proof-text.js';

/** All that a report tells of. */
export interface ReportInput {
  readonly proof: Proof;
  readonly findings: readonly Diagnostic[];
  readonly walks: readonly WalkResult[];
  readonly grid: Grid;
  readonly reasons: ReadonlyMap<string, RowReasons>;
  readonly landings: readonly Landing[];
  readonly states: StateMap;
  readonly limits: readonly Limit[];
  /** What a run against a real app came to; null where none is given. */
  readonly live: LiveJson | null;
  readonly pictures: ReportPictures;
  readonly version: string;
}

/** Each an `svg` element. */
export interface ReportPictures {
  readonly landings: string;
  readonly states: string;
  readonly lives: string;
  /** One a walk, in their order. */
  readonly walks: readonly string[];
  /** The walks that break something, as they were played. */
  readonly broken: ReadonlyMap<Counterexample, BrokenWalk>;
}

/** A walk that breaks something. */
export interface BrokenWalk {
  readonly steps: readonly StepResult[];
  readonly svg: string;
}

/** A link to the line of the policy that says something. */
export function lineLink({ proof: { input } }: ReportInput, at: Path | null): Html {
  return at === null || at.length === 0 ? html`` : placeLink(input.source.file, input.placeOf(at));
}

/** A link to a line where it is one of the policy, or its name. */
export function placeLink(policy: string, place: Place): Html {
  const { line } = positionOf(place.source, place.start);
  return place.source.file === policy
    ? html` <a class="line" href="#L${line}">line ${line}</a>`
    : html` <span class="line">${place.source.file}:${line}</span>`;
}

import type { View } from '../laws/law.js';
import type { Path } from '../language/text/yaml-text.js';

/** What of a policy walks can touch, by what it is. */
export const GROUPS = [
  'pages',
  'rules',
  'landings',
  'refusals',
  'reasons',
  'parts',
  'barriers',
  'limits',
  'ways in and out',
] as const;
export type Group = (typeof GROUPS)[number];

/** One thing that a walk can touch. */
export interface Coverable {
  readonly key: string;
  /** What it is about: `/ledger`, `session.idle`. */
  readonly subject: string;
  /** What of that: `asked for by petra`, `just past 1h`; empty where it is one thing. */
  readonly aspect: string;
  readonly at: Path;
}

/** The things of one group, and which of them a step touches. */
export interface Meter {
  readonly group: Group;
  readonly coverables: readonly Coverable[];
  /** The keys of what a step touches; one that is none of the coverables counts for nothing. */
  touchedBy(view: View): readonly string[];
}

/** The key of a place of the policy. */
export function keyOfPlace(at: Path): string {
  return at.map(String).join('\n');
}

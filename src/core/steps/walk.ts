import type { Path, YamlText } from '../language/text/yaml-text.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { LawName } from '../vocabulary/law-names.js';
import type { Reason } from '../app/reasons.js';
import type { Action } from './all-steps.js';

/** A sequence of steps on a virtual clock, with what must be seen after each. */
export interface Walk {
  readonly name: string;
  /** The file that it stands in, and where. */
  readonly input: YamlText;
  readonly at: Path;
  readonly steps: readonly Step[];
  /** The laws that the walk is known to break, at whatever step. */
  readonly expectBroken: readonly LawName[];
}

export interface Step {
  readonly at: Path;
  readonly action: Action;
  /** The browser in which it happens. */
  readonly browser: string;
  /** The network address that the browser speaks from, from this step on; null: as before. */
  readonly connectsFrom: string | null;
  readonly named: string | null;
  readonly expects: Expectations;
  /** The laws that this step is known to break. */
  readonly expectBroken: readonly LawName[];
}

/** What must be seen after a step; null where it does not matter. */
export interface Expectations {
  readonly lands: string | null;
  readonly status: number | null;
  /** An account's name or `guest`. */
  readonly seenAs: string | null;
  /** An account's name or `nobody`. */
  readonly actedBy: string | null;
  readonly why: Reason | null;
  /** The addresses that sent the visitor on, in order. */
  readonly via: readonly string[] | null;
  readonly session: 'live' | 'none' | null;
  readonly refreshes: number | null;
  /** Addresses of menu links and names of parts that the page shows, and that it does not. */
  readonly shows: readonly string[] | null;
  readonly hides: readonly string[] | null;
  /** What the browser has, and has not. */
  readonly holds: readonly Credential[] | null;
  readonly lacks: readonly Credential[] | null;
  /** The paths of all pages that are open to the browser now. */
  readonly reaches: readonly string[] | null;
}

/** For a step that may come out as it likes. */
export const NOTHING_EXPECTED: Expectations = {
  lands: null,
  status: null,
  seenAs: null,
  actedBy: null,
  why: null,
  via: null,
  session: null,
  refreshes: null,
  shows: null,
  hides: null,
  holds: null,
  lacks: null,
  reaches: null,
};

/** A step that does something and expects nothing. */
export function plainStep(browser: string, action: Action): Step {
  return {
    at: [],
    action,
    browser,
    connectsFrom: null,
    named: null,
    expects: NOTHING_EXPECTED,
    expectBroken: [],
  };
}

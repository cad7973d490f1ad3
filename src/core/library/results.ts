import type { Diagnostic, Severity } from '../language/text/diagnostic.js';
import { positionOf, type Place } from '../language/text/source.js';
import { differenceWords } from '../walks/expectations.js';
import type { StepResult, WalkResult } from '../walks/runner.js';
import { stepWords } from '../steps/all-steps.js';
import type { Seconds } from '../time/duration.js';
import type { LawName } from '../vocabulary/law-names.js';
import type { Reason } from '../app/reasons.js';

/** A place in a file of the input; line and column count from 1. */
export interface FilePlace {
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

/** What is wrong or careless in a policy or its walks. */
export interface Finding {
  /** A stable name, such as `landing-refused`; docs/checks.md explains each. */
  readonly code: string;
  readonly severity: Severity;
  readonly message: string;
  /** What would mend it; null when nothing is known. */
  readonly hint: string | null;
  readonly place: FilePlace | null;
}

/** A walk as it came out. */
export interface PlayedWalk {
  readonly name: string;
  /** Whether every step came out as it expects and broke no law. */
  readonly passed: boolean;
  readonly steps: readonly PlayedStep[];
}

/** A step as it came out. */
export interface PlayedStep {
  /** What was done, as the language writes it; never a password. */
  readonly step: string;
  readonly browser: string;
  /** The virtual clock after it, in seconds from the start of the walk. */
  readonly time: Seconds;
  /** The address of the page that is shown; null where none is. */
  readonly lands: string | null;
  /** The status of the last response; null where the app was not asked. */
  readonly status: number | null;
  /** The account that the app took the visitor for, or `guest`; null where it was not asked. */
  readonly seenAs: string | null;
  /** Who acts for that account; null where nobody does. */
  readonly actedBy: string | null;
  readonly why: Reason | null;
  /** What came out otherwise than the step expects, in words. */
  readonly differences: readonly string[];
  /** The laws that it breaks without the walk saying so. */
  readonly broken: readonly BrokenLaw[];
  /** Why it could not be played, so that the walk ends there; null where it could. */
  readonly impossible: string | null;
}

/** That a step breaks a law. */
export interface BrokenLaw {
  readonly law: LawName;
  /** Advice is told and fails nothing. */
  readonly weight: 'law' | 'advice';
  readonly seen: string;
  /** What would mend it. */
  readonly mend: string;
}

/** A place for people. */
export function filePlace(place: Place | null): FilePlace | null {
  return place === null ? null : { file: place.source.file, ...positionOf(place.source, place.start) };
}

/** What was found, without the machinery that found it. */
export function findingOf({ code, severity, message, hint, place }: Diagnostic): Finding {
  return { code, severity, message, hint, place: filePlace(place) };
}

/** A walk as played, without the machinery that played it. */
export function playedWalk({ walk, passed, steps }: WalkResult): PlayedWalk {
  return { name: walk.name, passed, steps: steps.map(playedStep) };
}

/** A step as played, without the machinery that played it. */
export function playedStep({ step, time, outcome, differences, broken, impossible }: StepResult): PlayedStep {
  const { lands, status, seenAs, actedBy, why } = outcome;
  return {
    step: stepWords(step.action),
    browser: step.browser,
    time,
    lands,
    status,
    seenAs,
    actedBy,
    why,
    differences: differences.map(differenceWords),
    broken: broken.map(({ law, weight, seen, mend }) => ({ law, weight, seen, mend })),
    impossible,
  };
}

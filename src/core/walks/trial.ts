import { Capped } from '../language/capped.js';
import type { Diagnostic } from '../language/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { sourceOf } from '../language/source.js';
import { readYaml } from '../language/yaml-text.js';
import type { Stage } from '../play/stage.js';
import type { Expectations, Step, Walk } from '../steps/walk.js';
import type { WrittenStep } from '../steps/typed.js';
import { playSteps, type StepResult } from './runner.js';
import { readWalkFile } from './walk-reader.js';

/** Steps that were tried one after another, as they came out. */
export interface Trial {
  readonly walk: Walk;
  readonly results: readonly StepResult[];
}

/** The walk of a trial has no name before it is saved. */
const UNNAMED = 'tried';

/** Reads steps that were written one by one, and plays them from a fresh start; or tells what is wrong with them. */
export function tryOut(
  stage: Stage,
  steps: readonly WrittenStep[],
): Trial | { readonly faults: readonly Diagnostic[] } {
  const read = readSteps(stage.app.policy, steps);
  if ('faults' in read) return read;
  return { walk: read, results: playSteps(stage, read.steps).steps };
}

/** Reads steps that were written one by one, as a walk; or tells what is wrong with them. */
export function readSteps(
  policy: Policy,
  steps: readonly WrittenStep[],
): Walk | { readonly faults: readonly Diagnostic[] } {
  const capped = new Capped();
  const report = (diagnostic: Diagnostic) => {
    capped.add(diagnostic);
  };
  // A trial of no step is a walk of none, which nobody can write.
  const text = JSON.stringify({
    walks: [{ name: UNNAMED, steps: steps.length === 0 ? [{ reload: null }] : steps }],
  });
  const input = readYaml(sourceOf(UNNAMED, text), report);
  const [walk] = input === null ? [] : readWalkFile(input, policy, report);
  if (walk === undefined || capped.diagnostics.length > 0) return { faults: capped.diagnostics };
  return steps.length === 0 ? { ...walk, steps: [] } : walk;
}

/** A step that expects what came out, and the laws that it broke. */
export function expectingWhatCame({ step, outcome, broken, played }: StepResult): Step {
  const isAsked = played.exchanges.length > 0;
  const { lands, status, seenAs, why, refused } = outcome;
  const isServed = why === null || why === 'served' || why === 'forwarded';
  const expects: Expectations = {
    ...step.expects,
    lands,
    status: isAsked && (refused !== null || (status ?? 0) >= 400) ? status : null,
    seenAs: isAsked ? seenAs : null,
    actedBy: outcome.actedBy,
    why: isAsked && !isServed ? why : null,
    refreshes: outcome.refreshes > 0 ? outcome.refreshes : null,
  };
  const laws = broken.filter(({ weight }) => weight === 'law').map(({ law }) => law);
  return { ...step, expects: isAsked ? expects : step.expects, expectBroken: [...new Set(laws)] };
}

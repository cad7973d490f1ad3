import { Capped } from '../language/text/capped.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { sourceOf } from '../language/text/source.js';
import { readYaml } from '../language/text/yaml-text.js';
import type { Stage } from '../play/stage.js';
import type { Expectations, Step, Walk } from '../steps/walk.js';
import type { WrittenStep } from '../steps/typed.js';
import { copyOf, newMemory, type WalkMemory } from '../steps/walk-scope.js';
import { judged, startOf, takeStep, type Course, type StepResult } from './runner.js';
import { readWalkFile } from './walk-reader.js';

/** Steps that were tried one after another, as they came out. */
export interface Trial {
  readonly walk: Walk;
  readonly results: readonly StepResult[];
  /** What the next step goes on from. */
  readonly standing: Standing;
}

interface Standing {
  /** null after a step that cannot be played. */
  readonly course: Course | null;
  /** The steps with every law that each breaks. */
  readonly played: readonly StepResult[];
  /** What the steps have made that the next may speak of. */
  readonly made: WalkMemory;
}

/** The walk of a trial has no name before it is saved. */
const UNNAMED = 'tried';

/** The steps in which something is wrong that cannot be read. */
type Faulty = { readonly faults: readonly Diagnostic[] };

/** Reads steps that were written one by one, and plays them from a fresh start; or tells what is wrong with them. */
export function tryOut(stage: Stage, steps: readonly WrittenStep[]): Trial | Faulty {
  const made = newMemory();
  const walk = read(stage.app.policy, steps, made);
  if ('faults' in walk) return walk;
  const nothing: Standing = { course: startOf(stage), played: [], made };
  const played = walk.steps.reduce((standing, step) => playedOn(stage, standing, step), nothing);
  return { walk, results: judged(played.played), standing: played };
}

/** Goes on with one more step, and plays no other again; or tells what is wrong with it. */
export function tryFurther(stage: Stage, { walk, standing }: Trial, step: WrittenStep): Trial | Faulty {
  const made = copyOf(standing.made);
  const more = read(stage.app.policy, [step], made);
  if ('faults' in more) return more;
  const next = more.steps.map((each) => ({ ...each, at: ['walks', 0, 'steps', walk.steps.length] }));
  const after = next.reduce((each, one) => playedOn(stage, each, one), { ...standing, made });
  return {
    walk: { ...walk, steps: [...walk.steps, ...next] },
    results: judged(after.played),
    standing: after,
  };
}

function playedOn(stage: Stage, standing: Standing, step: Step): Standing {
  if (standing.course === null) return standing;
  const { result, course } = takeStep(stage, standing.course, step);
  return { ...standing, course, played: [...standing.played, result] };
}

/** Reads steps that were written one by one, as a walk; or tells what is wrong with them. */
export function readSteps(policy: Policy, steps: readonly WrittenStep[]): Walk | Faulty {
  return read(policy, steps, newMemory());
}

function read(policy: Policy, steps: readonly WrittenStep[], made: WalkMemory): Walk | Faulty {
  const capped = new Capped();
  const report = (diagnostic: Diagnostic) => {
    capped.add(diagnostic);
  };
  // A trial of no step is a walk of none, which nobody can write.
  const text = JSON.stringify({
    walks: [{ name: UNNAMED, steps: steps.length === 0 ? [{ reload: null }] : steps }],
  });
  const input = readYaml(sourceOf(UNNAMED, text), report);
  const [walk] = input === null ? [] : readWalkFile(input, policy, report, () => made);
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

import type { YamlText } from '../language/text/yaml-text.js';
import type { Meter } from './meter.js';
import type { Stage } from '../play/stage.js';
import { readTyped, type WrittenStep } from '../steps/typed.js';
import type { Step } from '../steps/walk.js';
import { playSteps, type StepResult } from '../walks/runner.js';
import { expectingWhatCame, readSteps } from '../walks/trial.js';
import { metersOf, touchedKeys, type Played } from './coverage.js';
import type { Scenario } from './scenarios/scenario.js';
import { scenariosOf } from './scenarios/scenarios.js';
import { requestOf } from '../steps/asking.js';

/** A walk that would touch what none does, with what comes out today as what it expects. */
export interface ProposedWalk {
  readonly name: string;
  readonly steps: readonly Step[];
}

/** A scenario as it was played: its steps, and what each touches that no step before it does. */
interface Candidate {
  readonly name: string;
  readonly results: readonly StepResult[];
  readonly fresh: readonly ReadonlySet<string>[];
}

/**
 * The fewest, shortest walks that touch what some walks do not. Of all that people may do the one that brings most for its
 * steps is taken first, without the steps that bring nothing, and so on until none brings anything.
 */
export function proposalsFor(stage: Stage, input: YamlText, walks: readonly Played[]): ProposedWalk[] {
  const meters = metersOf(stage, input);
  const missing = new Set(
    meters.flatMap(({ group, coverables }) => coverables.map(({ key }) => `${group} ${key}`)),
  );
  for (const { steps, expectBroken } of walks) {
    playSteps(stage, steps, expectBroken, (view) => {
      for (const key of touchedKeys(meters, view)) missing.delete(key);
    });
  }
  let candidates = scenariosOf(stage).flatMap((scenario) => played(stage, meters, scenario, missing) ?? []);
  const proposed: ProposedWalk[] = [];
  while (missing.size > 0) {
    candidates = candidates.filter((each) => gainOf(each, missing) > 0);
    const best = candidates.reduce<Candidate | null>(
      (found, each) => (found === null || worthOf(each, missing) > worthOf(found, missing) ? each : found),
      null,
    );
    if (best === null) break;
    const shortened = shortest(stage, meters, best, missing);
    for (const keys of shortened.fresh) for (const key of keys) missing.delete(key);
    proposed.push({ name: shortened.name, steps: shortened.results.map(expectingWhatCame) });
    candidates = candidates.filter((each) => each !== best);
  }
  return proposed;
}

/** A scenario that can be played, up to its first step that cannot; null where nothing is left of it. */
function played(
  stage: Stage,
  meters: readonly Meter[],
  { name, lines }: Scenario,
  missing: ReadonlySet<string>,
): Candidate | null {
  const written = lines.flatMap((line): WrittenStep[] => {
    const { step } = readTyped(line);
    return step === null ? [] : [step];
  });
  if (written.length === 0 || written.length < lines.length) return null;
  const walk = readSteps(stage.app.policy, written);
  return 'faults' in walk ? null : measured(stage, meters, name, walk.steps, missing);
}

function measured(
  stage: Stage,
  meters: readonly Meter[],
  name: string,
  steps: readonly Step[],
  missing: ReadonlySet<string>,
): Candidate {
  const seen = new Set<string>();
  const fresh: Set<string>[] = [];
  const { steps: all } = playSteps(stage, steps, [], (view) => {
    const keys = [...touchedKeys(meters, view)].filter((key) => missing.has(key) && !seen.has(key));
    for (const key of keys) seen.add(key);
    fresh.push(new Set(keys));
  });
  const isPlayed = ({ impossible }: StepResult) => impossible === null;
  return {
    name,
    results: all.filter(isPlayed),
    fresh: fresh.filter((_, at) => all[at]?.impossible === null),
  };
}

function gainOf({ fresh }: Candidate, missing: ReadonlySet<string>): number {
  return fresh.reduce((sum, keys) => sum + [...keys].filter((key) => missing.has(key)).length, 0);
}

/** What a walk brings for the steps that it needs for that. */
function worthOf(candidate: Candidate, missing: ReadonlySet<string>): number {
  const useful = candidate.fresh.filter((keys) => [...keys].some((key) => missing.has(key))).length;
  return gainOf(candidate, missing) / (useful + 2);
}

/** The same without what comes after its last use, and without the requests that bring nothing, where it brings as much then. */
function shortest(
  stage: Stage,
  meters: readonly Meter[],
  candidate: Candidate,
  missing: ReadonlySet<string>,
): Candidate {
  const isUseful = (at: number) => [...(candidate.fresh[at] ?? [])].some((key) => missing.has(key));
  const last = candidate.fresh.findLastIndex((_, at) => isUseful(at));
  const steps = candidate.results.slice(0, last + 1).map(({ step }) => step);
  const whole = measured(stage, meters, candidate.name, steps, missing);
  const lean = steps.filter(({ action }, at) => isUseful(at) || requestOf(action) === null);
  const shorter = measured(stage, meters, candidate.name, lean, missing);
  return gainOf(shorter, missing) >= gainOf(whole, missing) && shorter.results.length === lean.length
    ? shorter
    : whole;
}

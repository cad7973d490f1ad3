import { stageOf } from '../play/stage.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import { valueUnder } from '../language/text/plain.js';
import { readPolicy } from '../language/policy-reader.js';
import type { Policy } from '../language/policy.js';
import { sourceOf } from '../language/text/source.js';
import { readYaml, type Path, type YamlText } from '../language/text/yaml-text.js';
import { playWalk } from '../walks/runner.js';
import { compareStep } from './compare-step.js';
import type { LiveFinding, LiveWalk } from './findings.js';
import { smallChanges, type SmallChange } from './small-changes.js';
import { withWaits } from './real-time.js';

/** A small change of the policy after which it says what the app does. */
export interface Description {
  /** As `session.renews: never`. */
  readonly written: string;
  /** The place of the policy that changes, or the nearest that is there. */
  readonly at: Path;
}

/**
 * Finds a line of the policy that would describe what the app does, where there is one: each small change that could is tried, and one is
 * taken only where everything that was seen agrees with it: what differed does no longer, and nothing else does.
 */
export function descriptionOf(
  input: YamlText,
  policy: Policy,
  finding: LiveFinding,
  walks: readonly LiveWalk[],
): Description | null {
  const fixed = walks.filter(({ steps }) => steps.length > 0).map(withTimes);
  const own = new Set([finding.first, ...finding.also].map(({ walk }) => walk));
  const before = new Map(fixed.map((walk) => [walk.played, differingIn(policy, walk)]));
  const showing = [finding.first, ...finding.also];
  for (const change of smallChanges(input, policy, finding)) {
    const other = changed(input, change);
    if (other === null) continue;
    const agrees = (walk: Timed) => {
      const now = differingIn(other, walk);
      const was = before.get(walk.played) ?? new Set();
      if ([...now].some((step) => !was.has(step))) return false;
      return showing.every(
        ({ walk: of, step, follow }) =>
          of !== walk.played || ![step, ...follow].some((each) => now.has(each)),
      );
    };
    // Those walks first that tell the most.
    const isOwn = ({ played }: Timed) => own.has(played);
    if (fixed.filter(isOwn).every(agrees) && fixed.filter((walk) => !isOwn(walk)).every(agrees)) {
      return { written: `${change.path.map(String).join('.')}: ${flowText(change.value)}`, at: change.path };
    }
  }
  return null;
}

/** A walk whose waits last as long as they did, whatever a changed policy would make of its deadlines. */
interface Timed {
  readonly played: LiveWalk;
  readonly walk: LiveWalk['walk'];
}

function withTimes(played: LiveWalk): Timed {
  let before = 0;
  const lengths = played.steps.map(({ result: { time } }) => {
    const length = time - before;
    before = time;
    return length;
  });
  const walk = withWaits(played.walk, lengths);
  return { played, walk: { ...walk, steps: walk.steps.slice(0, played.steps.length) } };
}

/** The steps of a walk at which the app differs from a policy, by their numbers. */
function differingIn(policy: Policy, { played, walk }: Timed): Set<number> {
  const { steps } = playWalk(stageOf(policy), walk);
  const differing = new Set<number>();
  played.steps.forEach(({ seen }, index) => {
    const result = steps[index];
    if (result === undefined || result.impossible !== null || compareStep(policy, result, seen) !== null) {
      differing.add(index);
    }
  });
  return differing;
}

/** The policy with one value changed; null where it is none then. */
function changed(input: YamlText, { path, value }: SmallChange): Policy | null {
  const copy: unknown = JSON.parse(JSON.stringify(input.value));
  let here: unknown = copy;
  for (const step of path.slice(0, -1)) {
    let next = valueUnder(here, step);
    if (next === undefined && typeof here === 'object' && here !== null && !Array.isArray(here)) {
      next = {};
      Reflect.set(here, step, next);
    }
    here = next;
  }
  const last = path.at(-1);
  if (typeof here !== 'object' || here === null || last === undefined) return null;
  Reflect.set(here, last, value);
  const faults: Diagnostic[] = [];
  const report = (diagnostic: Diagnostic) => {
    faults.push(diagnostic);
  };
  const text = readYaml(sourceOf(input.source.file, JSON.stringify(copy)), report);
  const policy = text === null ? null : readPolicy(text, report);
  return faults.length === 0 ? policy : null;
}

/** A value as it is written on one line. */
function flowText(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(flowText).join(', ')}]`;
  if (typeof value === 'object' && value !== null) {
    return `{ ${Object.entries(value)
      .map(([key, each]) => `${key}: ${flowText(each)}`)
      .join(', ')} }`;
  }
  return String(value);
}

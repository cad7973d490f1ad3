import type { Diagnostic } from '../language/text/diagnostic.js';
import type { Exposure } from '../proof/exposure/exposure.js';
import type { Verdict } from '../proof/prove.js';
import type { Counterexample } from '../proof/search/counterexample.js';
import type { Goal } from '../proof/search/goals.js';
import type { Finding } from '../proof/search/scene-proof.js';
import type { Direction, Sides } from '../vocabulary/direction.js';

/** What was found of one policy. */
export interface Outcome {
  readonly findings: readonly Diagnostic[];
  /** null where nothing was proved. */
  readonly proof: {
    readonly verdicts: readonly Verdict[];
    /** null where they were not worked out to the end. */
    readonly exposures: readonly Exposure[] | null;
  } | null;
}

/** A law or promise of which something else holds than before. */
export interface VerdictChange {
  readonly goal: Goal;
  /** null for a promise that only one policy makes. */
  readonly before: Finding['verdict'] | null;
  readonly after: Finding['verdict'] | null;
  /** The shortest walk of each way in which it is broken now and was not before. */
  readonly ways: readonly Counterexample[];
  readonly direction: Direction;
}

/** For how long something can open anything; null where the policy hands out nothing of the kind. */
export type Bound = Pick<Exposure, 'ends' | 'isAttained'> | null;

/** An exposure that lasts longer than before, or less long. */
export interface BoundChange extends Pick<Exposure, 'credential' | 'event'> {
  readonly before: Bound;
  readonly after: Bound;
  readonly direction: Direction;
}

/** What two policies come to otherwise. */
export interface OutcomeDiff {
  /** null where nothing was proved. */
  readonly verdicts: readonly VerdictChange[] | null;
  /** null where they are not known of both. */
  readonly bounds: readonly BoundChange[] | null;
  readonly found: readonly Diagnostic[];
  readonly gone: readonly Diagnostic[];
}

/** Compares what was found of two policies. */
export function compareOutcomes({ before, after }: Sides<Outcome>): OutcomeDiff {
  const [was, is] = [before.proof, after.proof];
  return {
    verdicts: was && is && comparedVerdicts({ before: was.verdicts, after: is.verdicts }),
    bounds:
      was?.exposures && is?.exposures ? comparedBounds({ before: was.exposures, after: is.exposures }) : null,
    found: missingFrom(before.findings, after.findings),
    gone: missingFrom(after.findings, before.findings),
  };
}

function comparedVerdicts(verdicts: Sides<readonly Verdict[]>): VerdictChange[] {
  const [was, is] = [byKey(verdicts.before), byKey(verdicts.after)];
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((key) => {
    const [old, next] = [was.get(key), is.get(key)];
    const { goal } = next ?? old ?? {};
    if (goal === undefined) return [];
    const [before, after] = [old?.finding.verdict ?? null, next?.finding.verdict ?? null];
    const known = old === undefined ? new Set<string>() : waysOf(old.finding);
    const ways =
      next?.finding.verdict === 'broken'
        ? [next.finding.by, ...next.finding.also].filter(({ miss }) => !known.has(miss))
        : [];
    // A promise that is new and kept, or gone, is told as a setting.
    const isSame = before === after || (before === null && after === 'holds') || after === null;
    if (isSame && ways.length === 0) return [];
    return [{ goal, before, after, ways, direction: directionOf(before, after) }];
  });
}

function directionOf(before: Finding['verdict'] | null, after: Finding['verdict'] | null): Direction {
  if (after === 'broken') return 'loosens';
  return before === 'broken' && after === 'holds' ? 'tightens' : 'changes';
}

function waysOf(finding: Finding): ReadonlySet<string> {
  if (finding.verdict !== 'broken') return new Set();
  return new Set([finding.by.miss, ...finding.also.map(({ miss }) => miss), ...finding.others]);
}

/** By what a law or promise says, since the number of a promise changes with those before it. */
function byKey(verdicts: readonly Verdict[]): Map<string, Verdict> {
  return new Map(verdicts.map((verdict) => [keyOf(verdict.goal), verdict]));
}

function keyOf({ id, promise }: Goal): string {
  if (promise === null) return id;
  const { only, reach, after, copied, atMost, withinSteps } = promise;
  return JSON.stringify([only, reach.map(({ text }) => text), after, copied, atMost, withinSteps]);
}

function comparedBounds(exposures: Sides<readonly Exposure[]>): BoundChange[] {
  const key = ({ credential, event }: Exposure) => `${credential} ${event}`;
  const [was, is] = [exposures.before, exposures.after].map(
    (all) => new Map(all.map((each) => [key(each), each])),
  );
  return [...new Map([...(was ?? []), ...(is ?? [])]).values()].flatMap((each) => {
    const [before, after] = [was?.get(key(each)) ?? null, is?.get(key(each)) ?? null];
    const [old, next] = [secondsOf(before), secondsOf(after)];
    if (old === next) return [];
    const { credential, event } = each;
    return [{ credential, event, before, after, direction: next > old ? 'loosens' : 'tightens' }];
  });
}

/** What is not handed out opens nothing. */
function secondsOf(bound: Bound): number {
  return bound === null ? 0 : (bound.ends ?? Infinity);
}

/** The findings of some that others do not have, told apart by what they say. */
function missingFrom(known: readonly Diagnostic[], some: readonly Diagnostic[]): Diagnostic[] {
  const key = ({ code, message }: Diagnostic) => `${code} ${message}`;
  const have = new Set(known.map(key));
  return some.filter((each) => !have.has(key(each)));
}

// Step 7 of docs/proof-method.md: what is known already.

import { KEY_EVENTS } from '../exposure/key-exposure.js';
import { z } from 'zod';
import { once } from '../../language/text/once.js';
import { readYaml } from '../../language/text/yaml-text.js';
import { sourceOf } from '../../language/text/source.js';
import type { Stage } from '../../play/stage.js';
import type { Step } from '../../steps/walk.js';
import { CREDENTIALS } from '../../vocabulary/credentials.js';
import { PROMISE_EVENTS } from '../../vocabulary/promise-events.js';
import { readWalkFile } from '../../walks/walk-reader.js';
import { writtenWalkStep } from '../../walks/written.js';
import type { Exposure } from '../exposure/exposure.js';
import { playedAgainst } from '../search/counterexample.js';
import { goalsOf } from '../search/goals.js';
import type { Finding } from '../search/scene-proof.js';
import type { Job, SceneOutcome } from './scene-outcome.js';

/** What came of a scene as it is written down. */
export const keptSceneSchema = once(() => {
  const count = z.int().nonnegative();
  /** The steps of a walk as the language writes them. */
  const steps = z.array(z.record(z.string(), z.unknown()));
  return z.strictObject({
    states: count,
    transitions: count,
    addresses: count,
    requests: count,
    verbs: z.array(z.string()),
    findings: z.array(
      z.discriminatedUnion('verdict', [
        z.strictObject({ goal: z.string(), verdict: z.literal('holds') }),
        z.strictObject({ goal: z.string(), verdict: z.literal('not-settled'), because: z.string() }),
        z.strictObject({
          goal: z.string(),
          verdict: z.literal('broken'),
          /** The shortest walk of all first, then that of each other way that is shown. */
          walks: z.array(z.strictObject({ miss: z.string(), steps })).min(1),
          others: z.array(z.string()),
        }),
      ]),
    ),
    exposures: z
      .array(
        z.strictObject({
          credential: z.enum([...CREDENTIALS, 'browser', 'reset-link', 'sign-in-link', 'key']),
          event: z.enum(['copied', ...PROMISE_EVENTS, 'unattended', 'logged-out', 'sent', ...KEY_EVENTS]),
          ends: count.nullable(),
          attained: z.boolean(),
          steps: steps.nullable(),
        }),
      )
      .nullable(),
    finished: z.boolean(),
  });
});
export type KeptScene = z.infer<ReturnType<typeof keptSceneSchema>>;
type KeptFinding = KeptScene['findings'][number];

/** What came of a scene, to be written down. */
export function keepScene(outcome: SceneOutcome): KeptScene {
  const { states, transitions, addresses, requests, verbs, findings, exposures, isInterrupted } = outcome;
  return {
    states,
    transitions,
    addresses,
    requests,
    verbs: [...verbs],
    findings: [...findings].map(([goal, each]) => keepFinding(goal, each)),
    exposures:
      exposures?.map(({ credential, event, ends, isAttained, walk }) => ({
        credential,
        event,
        ends,
        attained: isAttained,
        steps: walk?.map(writtenWalkStep) ?? null,
      })) ?? null,
    finished: !isInterrupted,
  };
}

function keepFinding(goal: string, each: Finding): KeptFinding {
  switch (each.verdict) {
    case 'holds':
      return { goal, verdict: 'holds' };
    case 'open':
      return { goal, verdict: 'not-settled', because: each.because };
    case 'broken':
      return {
        goal,
        verdict: 'broken',
        walks: [each.by, ...each.also].map(({ miss, steps: all }) => ({
          miss,
          steps: all.map(writtenWalkStep),
        })),
        others: [...each.others],
      };
  }
}

/**
 * What came of a scene, from what was written down of it. Each walk that breaks something is played again, so that none is told that
 * does not come out so.
 *
 * @returns null where it is not of this scene, or no longer so
 */
export function readKeptScene(stage: Stage, { cast }: Job, kept: KeptScene): SceneOutcome | null {
  const { states, transitions, addresses, requests, verbs, finished } = kept;
  const findings = new Map<string, Finding>();
  for (const each of kept.findings) {
    const read = readFinding(stage, each);
    if (read === null) return null;
    findings.set(each.goal, read);
  }
  const exposures: Exposure[] = [];
  for (const { credential, event, ends, attained, steps: written } of kept.exposures ?? []) {
    const walk = written === null ? null : readSteps(stage, written);
    if (walk === null && written !== null) return null;
    exposures.push({ credential, event, ends, walk, isAttained: attained });
  }
  return {
    cast,
    states,
    transitions,
    addresses,
    requests,
    verbs,
    findings,
    exposures: kept.exposures === null ? null : exposures,
    isInterrupted: !finished,
  };
}

function readFinding(stage: Stage, kept: KeptFinding): Finding | null {
  const goal = goalsOf(stage.app.policy).find(({ id }) => id === kept.goal);
  if (goal === undefined) return null;
  if (kept.verdict === 'holds') return { verdict: 'holds' };
  if (kept.verdict === 'not-settled') return { verdict: 'open', because: kept.because };
  const walks = kept.walks.map(({ miss, steps: written }) => {
    const walk = readSteps(stage, written);
    return walk && playedAgainst(stage, walk, goal, goal.promise === null ? miss : null);
  });
  const [by, ...also] = walks.filter((walk) => walk !== null);
  if (by === undefined || also.length + 1 < walks.length) return null;
  return { verdict: 'broken', by, also, others: kept.others };
}

function readSteps(stage: Stage, written: readonly unknown[]): readonly Step[] | null {
  const faults: unknown[] = [];
  const report = (fault: unknown) => {
    faults.push(fault);
  };
  const text = JSON.stringify({ walks: [{ name: 'kept', steps: written }] });
  const input = readYaml(sourceOf('kept', text), report);
  const [walk] = input === null ? [] : readWalkFile(input, stage.app.policy, report);
  if (faults.length > 0 || walk === undefined) return null;
  // They stand in no file.
  return walk.steps.map((step) => ({ ...step, at: [] }));
}

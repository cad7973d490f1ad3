import {
  ALONE,
  loadProject,
  MOST_STATES,
  readKeptScene,
  settleScene,
  sourceOf,
  stageOf,
  type Job,
} from '../../src/core/internal';
import { proofPartFormat, proofPartJson } from '../../src/render/proof-part';
import { LEAKY } from '../support/small-proofs';
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';

/** Parts of a proof as `--join` and the cache read them, mutated: what breaks something is played again before it is told. */
export async function partFuzzer(): Promise<Fuzzer> {
  const { policy } = await loadProject(sourceOf('cavrin.yaml', LEAKY), []);
  if (policy === null) throw new Error('the policy of the parts cannot be used');
  const stage = stageOf(policy);
  const job: Job = { cast: ALONE, most: MOST_STATES, withExposures: true };
  const outcome = await settleScene(stage, job, () => Promise.resolve(false));
  const of = { app: policy.app, policy: 'cavrin.yaml' };
  const whole = proofPartJson(of, { part: 1, of: 1 }, [{ key: 'a', job, outcome }]);
  return {
    what: 'parts of proofs',
    often: 1,
    make: (random) => mutated(random, [whole]),
    faultOf(text) {
      const part = proofPartFormat().safeParse(parsed(text));
      for (const each of part.data?.scenes ?? []) {
        const kept = readKeptScene(stage, job, each.outcome);
        if (kept === null) continue;
        for (const goal of kept.findings.keys()) if (!outcome.findings.has(goal)) return `tells of ${goal}`;
      }
      return null;
    },
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

import type { Stage } from '../play/stage.js';
import { plainStep } from '../steps/walk.js';
import { playStep, type StepResult } from '../walks/runner.js';
import type { LiveStep } from './findings.js';
import type { LiveConfig } from './live-config.js';

/**
 * A request that tells who one is, as the policy has it at the end of a walk in each browser that took part: asking earlier would change
 * what is asked for. None where the app tells it by itself.
 */
export function askedAtEnd(
  stage: Stage,
  { who }: Pick<LiveConfig, 'who'>,
  steps: readonly LiveStep[],
): StepResult[] {
  const last = steps.at(-1)?.result;
  if (who?.by !== 'request' || last === undefined) return [];
  const browsers = new Map(steps.map(({ result }) => [result.step.browser, result.played.browser]));
  let { state } = last.played;
  return [...browsers].map(([name, browser]) => {
    const { method, path: address } = who;
    const result = playStep(
      stage,
      state,
      browser,
      plainStep(name, { verb: 'send', method, address, from: null }),
      last.time,
    );
    ({ state } = result.played);
    return result;
  });
}

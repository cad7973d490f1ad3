import { answered, type StepResult, type WalkResult, type YamlText } from '../core/internal.js';
import { startOf } from './findings-json.js';
import type { WalksJson } from './json-formats.js';
import { actionWords } from './step-words.js';
import { jsonText } from './json.js';

type StepJson = WalksJson['walks'][number]['steps'][number];

/** Walks as played, in the format `cavrin/walks`. */
export function walksJson(results: readonly WalkResult[], app: string, policy: YamlText): string {
  const json: WalksJson = {
    format: 'cavrin/walks',
    version: 1,
    app,
    policy: policy.source.file,
    walks: results.map(({ walk, steps, passed }) => ({
      ...startOf(walk.input.placeOf(walk.at)),
      name: walk.name,
      passed,
      steps: steps.map((step) => stepJson(step, walk.input, policy)),
    })),
    totals: {
      walks: results.length,
      steps: results.reduce((sum, result) => sum + result.steps.length, 0),
      failed: results.filter((result) => !result.passed).length,
    },
  };
  return jsonText(json);
}

function stepJson(result: StepResult, input: YamlText, policy: YamlText): StepJson {
  const { step, outcome, played } = result;
  const { decidedBy } = outcome;
  return {
    ...startOf(input.placeOf(step.at)),
    named: step.named,
    browser: step.browser,
    action: actionWords(step),
    time: result.time,
    lands: outcome.lands,
    status: outcome.status,
    seenAs: outcome.seenAs,
    actedBy: outcome.actedBy,
    barrier: outcome.barrier,
    why: outcome.why,
    decidedBy: decidedBy === null || decidedBy.length === 0 ? null : startOf(policy.placeOf(decidedBy)),
    via: [...outcome.via],
    session: outcome.session,
    refreshes: outcome.refreshes,
    exchanges: played.exchanges.map((exchange) => ({ purpose: exchange.purpose, ...answered(exchange) })),
    differences: result.differences.map((difference) => ({ ...difference })),
    broken: result.broken.map(({ law, weight, seen, allowedBy, mend, own }) => ({
      law,
      weight,
      seen,
      mend,
      own,
      allowedBy: allowedBy.length === 0 ? null : startOf(policy.placeOf(allowedBy)),
    })),
    holds: [...outcome.holds],
    impossible: result.impossible,
  };
}

import {
  isUnasked,
  type Counterexample,
  type Exposure,
  type Step,
  type Verdict,
  type YamlText,
  pauseSeconds,
} from '../core/internal.js';
import { startOf } from './findings-json.js';
import type { ProofJson } from './json-formats.js';
import type { Proof } from './proof-text.js';
import { castWords, goalWords, verbsOf } from './proof-words.js';
import { actionWords } from './step-words.js';
import { jsonText } from './json.js';

/** A proof, in the format `cavrin/proof`. */
export function proofJson(proof: Proof): string {
  const { stage, input, verdicts, outcomes, exposures, scenes, known } = proof;
  const counted = (verdict: string) =>
    verdicts.filter((each) => each.finding.verdict === verdict && !isUnasked(each)).length;
  const json: ProofJson = {
    format: 'cavrin/proof',
    version: 1,
    app: stage.app.policy.app,
    policy: input.source.file,
    verdicts: verdicts.map((verdict) => verdictJson(verdict, input)),
    exposures: exposures === null ? null : exposures.map(exposureJson),
    scenes: outcomes.map(({ cast, states, transitions, addresses, requests, isInterrupted }) => ({
      words: castWords(cast),
      ...cast,
      alike: [...cast.alike],
      states,
      transitions,
      addresses,
      requests,
      finished: !isInterrupted,
    })),
    steps: verbsOf(outcomes),
    totals: {
      holds: counted('holds'),
      broken: counted('broken'),
      notSettled: counted('open'),
      notAsked: verdicts.filter(isUnasked).length,
      scenes,
      known,
      states: outcomes.reduce((sum, { states }) => sum + states, 0),
      transitions: outcomes.reduce((sum, { transitions }) => sum + transitions, 0),
    },
  };
  return jsonText(json);
}

function verdictJson(verdict: Verdict, input: YamlText): ProofJson['verdicts'][number] {
  const { goal, finding, cast } = verdict;
  const { promise, law } = goal;
  const unasked = isUnasked(verdict) ? `no ${goal.lacks ?? ''}` : null;
  return {
    goal: goal.id,
    weight: law?.weight ?? 'promise',
    words: law?.title ?? goalWords(goal),
    place: promise === null ? null : startOf(input.placeOf(promise.at)),
    verdict: unasked !== null ? 'not-asked' : finding.verdict === 'open' ? 'not-settled' : finding.verdict,
    because: finding.verdict === 'open' ? finding.because : unasked,
    brokenBy:
      finding.verdict === 'broken'
        ? { ...brokenJson(finding.by, input), scene: cast === null ? '' : castWords(cast) }
        : null,
    alsoBrokenBy: finding.verdict === 'broken' ? finding.also.map((each) => brokenJson(each, input)) : [],
    otherWays: finding.verdict === 'broken' ? finding.others.length : 0,
  };
}

function brokenJson({ steps, seconds, moves, seen, allowedBy }: Counterexample, input: YamlText) {
  return {
    ...walkJson(steps),
    time: seconds,
    moves,
    seen,
    allowedBy: allowedBy.length === 0 ? null : startOf(input.placeOf(allowedBy)),
  };
}

function exposureJson({ credential, event, ends, isAttained, walk }: Exposure) {
  return {
    credential,
    since: event,
    ends,
    attained: isAttained,
    walk: walk === null ? null : walkJson(walk),
  };
}

function walkJson(steps: readonly Step[]) {
  const time = steps.reduce((sum, { action }) => sum + pauseSeconds(action), 0);
  return { steps: steps.map((step) => ({ browser: step.browser, action: actionWords(step) })), time };
}

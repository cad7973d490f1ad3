import { LAW_NAMES, playSteps, type Stage, type Step } from '../core/internal.js';
import { owningUp } from './owning-up.js';
import type { Proof } from './proof-text.js';
import { exposureWords, goalWords } from './proof-words.js';
import { walksYaml, type WrittenWalk } from './walk-yaml.js';

/** The walks of a proof as a file that `cavrin walk` plays to the same ends. */
export function proofWalks(proof: Proof): string {
  return walksYaml(walksOf(proof));
}

/** The walks that break something, and those that show how long something stays open; each knows the laws that it breaks. */
function walksOf({ stage, verdicts, exposures }: Proof): WrittenWalk[] {
  const walks = [
    ...verdicts.flatMap(({ goal, finding }): WrittenWalk[] =>
      finding.verdict === 'broken'
        ? [finding.by, ...finding.also].map(({ steps }, at) => ({
            name: `broken: ${goalWords(goal)}${at === 0 ? '' : ` (${at + 1})`}`,
            steps,
          }))
        : [],
    ),
    ...(exposures ?? []).flatMap((each): WrittenWalk[] => {
      const { what, since } = exposureWords(each);
      return each.walk === null ? [] : [{ name: `exposure: ${what}, after ${since}`, steps: each.walk }];
    }),
  ];
  return walks.map((walk) => ({ ...walk, steps: knowing(stage, walk.steps) }));
}

function knowing(stage: Stage, steps: readonly Step[]): Step[] {
  return playSteps(stage, owningUp(stage, steps)).steps.map(({ step, broken }) => {
    const laws = broken.filter(({ weight }) => weight === 'law').map(({ law }) => law);
    return { ...step, expectBroken: LAW_NAMES.filter((name) => laws.includes(name)) };
  });
}

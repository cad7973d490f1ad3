import type { Stage } from '../play/stage.js';
import type { LiveWalk } from './findings.js';
import { expectedSeenAs } from './compare-step.js';
import type { LiveConfig } from './live-config.js';
import type { Observed } from './observation.js';

/**
 * Walks in which nobody is taken for a guest at pages that tell nobody who they are: where what tells it was missing for each who came there
 * signed in, in all walks, the page has no place for it.
 */
export function withoutSilentPages(
  stage: Stage,
  { who }: Pick<LiveConfig, 'who'>,
  walks: readonly LiveWalk[],
): LiveWalk[] {
  if (who === null || who.by === 'request') return [...walks];
  const telling = new Set<string>();
  const { router } = stage.app;
  const pageOf = ({ lands, messages }: Observed) => {
    const target = messages.at(-1)?.target ?? lands ?? '/';
    const [path = target] = target.split('?', 1);
    return router.find('GET', path)?.page?.pattern.text ?? path;
  };
  const everyStep = walks.flatMap(({ steps }) => steps);
  for (const { seen } of everyStep) {
    if (seen.seenAs !== null && seen.seenAs !== 'guest') telling.add(pageOf(seen));
  }
  // Where nobody was seen as anybody anywhere, it is not the pages.
  if (telling.size === 0) return [...walks];
  return walks.map((walk) => ({
    ...walk,
    steps: walk.steps.map((step) => {
      const { result, seen } = step;
      const expected = expectedSeenAs(result, seen);
      const isMissed =
        seen.seenAs === 'guest' && expected !== null && expected !== 'guest' && !seen.unjudged.has('seen-as');
      // Whoever was led elsewhere than the policy has it is another matter.
      if (!isMissed || telling.has(pageOf(seen)) || seen.lands !== result.outcome.lands) return step;
      const reason = `no page at ${pageOf(seen)} told anybody who they are`;
      return {
        ...step,
        seen: { ...seen, seenAs: null, unjudged: new Map([...seen.unjudged, ['seen-as', reason] as const]) },
      };
    }),
  }));
}

import type { StatedAudience } from '../../language/policy.js';
import { compareConditions } from '../../audience/all-conditions.js';
import type { Audience } from '../../vocabulary/audience.js';
import { ABSENT, type Facet, type Surroundings } from './facet.js';
import { opposite, together, type Direction, type Sides } from '../../vocabulary/direction.js';

/** Whom something is for; null leaves the word to what follows. */
export const audience: Facet<StatedAudience | null> = {
  compare(values, { name, at }, around) {
    const [before, after] = [shown(values.before), shown(values.after)];
    if (written(values.before?.audience) === written(values.after?.audience)) return [];
    const places = { before: values.before?.at ?? null, after: values.after?.at ?? null };
    const isKnown = values.before !== null && values.after !== null;
    const direction = isKnown
      ? directionOfAudiences({ before: values.before.audience, after: values.after.audience }, around)
      : 'changes';
    return [
      {
        name,
        before,
        after,
        at: { before: places.before ?? at.before, after: places.after ?? at.after },
        direction,
      },
    ];
  },
};

/** The same of whom something is closed to, so that more of them tightens. */
export const stopped: Facet<StatedAudience> = {
  compare: (values, spot, around) =>
    audience
      .compare(values, spot, around)
      .map((change) => ({ ...change, direction: opposite(change.direction) })),
};

function shown(stated: StatedAudience | null) {
  return stated === null ? ABSENT : ({ is: 'audience', audience: stated.audience } as const);
}

function written(audience: Audience | undefined): string {
  return JSON.stringify(audience ?? null, (_, value: unknown) => (value instanceof Map ? [...value] : value));
}

/** Whether an audience admits more people than another, fewer, or others. */
export function directionOfAudiences(audiences: Sides<Audience>, around: Surroundings): Direction {
  const { before, after } = audiences;
  if (before.who === 'some' && after.who === 'some') {
    return together(compareConditions({ before, after }, around.holds));
  }
  const [was, is] = [reachOf(before), reachOf(after)];
  const gains = [...is].some((each) => !was.has(each));
  const loses = [...was].some((each) => !is.has(each));
  return gains && loses ? 'changes' : gains ? 'loosens' : 'tightens';
}

/** The kinds of visitors that an audience admits: some of those signed in are fewer than all of them. */
function reachOf({ who }: Audience): ReadonlySet<string> {
  const kinds = {
    everyone: ['guest', 'some', 'all'],
    guests: ['guest'],
    'signed-in': ['some', 'all'],
    some: ['some'],
    nobody: [],
  };
  return new Set(kinds[who]);
}

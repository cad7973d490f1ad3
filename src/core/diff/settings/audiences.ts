import type { StatedAudience } from '../../language/policy.js';
import type { Audience, SomeVisitors } from '../../vocabulary/audience.js';
import {
  ABSENT,
  directionOfSets,
  opposite,
  together,
  type Direction,
  type Facet,
  type Sides,
  type Surroundings,
} from './facet.js';

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
  if (before.who === 'some' && after.who === 'some') return directionOfSome({ before, after }, around);
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

/** Of two audiences of signed-in visitors: each condition is compared, and all that differ must agree. */
function directionOfSome({ before, after }: Sides<SomeVisitors>, around: Surroundings): Direction {
  const found: Direction[] = [];
  const sets = (was: ReadonlySet<string>, is: ReadonlySet<string>, more: Direction) => {
    if (was.size !== is.size || [...was].some((each) => !is.has(each))) {
      found.push(directionOfSets({ before: was, after: is }, more));
    }
  };
  const counts = (was: number, is: number, more: Direction) => {
    if (was !== is) found.push(is > was === (more === 'loosens') ? 'loosens' : 'tightens');
  };
  sets(admitted(before.any, around.holds.before), admitted(after.any, around.holds.after), 'loosens');
  sets(new Set(before.all), new Set(after.all), 'tightens');
  sets(new Set(before.none), new Set(after.none), 'tightens');
  counts(Number(before.secondFactor), Number(after.secondFactor), 'tightens');
  counts(before.loginWithin ?? Infinity, after.loginWithin ?? Infinity, 'loosens');
  counts(before.joinedWithin ?? Infinity, after.joinedWithin ?? Infinity, 'loosens');
  counts(Number(before.account !== null), Number(after.account !== null), 'tightens');
  if (before.account !== null && after.account !== null && before.account !== after.account) {
    found.push('changes');
  }
  for (const fact of new Set([...before.facts.keys(), ...after.facts.keys()])) {
    const [was, is] = [before.facts.get(fact), after.facts.get(fact)];
    if (was === undefined || is === undefined) found.push(was === undefined ? 'tightens' : 'loosens');
    else sets(askedOf(was), askedOf(is), 'loosens');
  }
  for (const name of new Set([...before.flags.keys(), ...after.flags.keys()])) {
    const [was, is] = [before.flags.get(name), after.flags.get(name)];
    if (was !== is) found.push(was === undefined ? 'tightens' : is === undefined ? 'loosens' : 'changes');
  }
  return together(found);
}

function askedOf({ values, parameters }: { values: readonly string[]; parameters: readonly string[] }) {
  return new Set([...values, ...parameters.map((name) => `:${name}`)]);
}

/** The roles whose holders one of some roles is enough for; with null, those without any role too. */
function admitted(
  any: readonly string[] | null,
  roles: ReadonlyMap<string, ReadonlySet<string>>,
): ReadonlySet<string> {
  if (any === null) return new Set([...roles.keys(), '']);
  return new Set([...roles].flatMap(([name, holds]) => (any.some((role) => holds.has(role)) ? [name] : [])));
}

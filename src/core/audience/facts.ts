import { facts as written } from './written.js';
import type { Scope } from '../language/text/name-reader.js';
import { problem } from '../language/text/problems.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Pattern } from '../paths/pattern.js';
import type { AskedFact, AskedFacts, Facts } from '../vocabulary/audience.js';
import type { Direction } from '../vocabulary/direction.js';
import { condition } from './condition.js';
import { checkParameter } from './parameters.js';
import { differing, sorted } from './role-names.js';

/** Has one of the values that are asked for of each fact. */
export const facts = condition<AskedFacts, Readonly<Record<string, string[]>>>({
  key: 'facts',
  schema: () => written,
  nothing: new Map(),
  isAsked: (asked) => asked.size > 0,
  read: (text, at, { patterns, scope }) => readAskedFacts(text, at, patterns, scope),
  reason: 'role',
  admits: (asked, visitor, { parameters }) => hasFacts(visitor.facts, asked, parameters),
  changes(asked, visitor, { parameters }) {
    const wanted = factsThatDo(asked, visitor.facts, parameters);
    if (wanted.size === 0) return [];
    const after = { facts: new Map([...visitor.facts, ...wanted]) };
    return [{ step: { change: 'have-facts', facts: wanted }, after }];
  },
  compare: ({ before, after }) =>
    [...new Set([...before.keys(), ...after.keys()])].flatMap((fact): Direction[] => {
      const [was, is] = [before.get(fact), after.get(fact)];
      if (was === undefined || is === undefined) return [was === undefined ? 'tightens' : 'loosens'];
      return differing({ before: askedOf(was), after: askedOf(is) }, 'loosens');
    }),
  words: (asked) => [...asked].map(([name, each]) => `with ${factWords(name, each)}`),
  keyed: (asked) =>
    [...asked]
      .sort(([one], [other]) => (one < other ? -1 : 1))
      .map(([name, { values, parameters }]) => [name, sorted(values), parameters.length > 0]),
  own: (asked, account) =>
    [...asked].flatMap(([fact, { parameters }]) =>
      parameters.map((parameter) => [parameter, account.facts.get(fact) ?? []] as const),
    ),
  apartFromPath: (asked) => new Map([...asked].filter(([, { parameters }]) => parameters.length === 0)),
});

/**
 * Reads what a condition asks of facts. A value that begins with a colon is what a parameter of the path says.
 *
 * @param patterns the paths for which the condition stands; null where it stands for none
 */
export function readAskedFacts(
  text: Readonly<Record<string, readonly string[]>>,
  at: Path,
  patterns: readonly Pattern[] | null,
  scope: Scope,
): AskedFacts {
  return new Map(
    Object.entries(text).map(([fact, values]): [string, AskedFact] => {
      const named = values.flatMap((value) => (value.startsWith(':') ? [value.slice(1)] : []));
      for (const name of named) {
        if (patterns !== null) checkParameter(name, [...at, fact], patterns, scope);
        else scope.report(problem('no-parameter-here', { name }, scope.input.placeOf([...at, fact])));
      }
      return [fact, { values: values.filter((value) => !value.startsWith(':')), parameters: named }];
    }),
  );
}

/** Whether somebody has one of the values that are asked for of each fact; a parameter of the path stands for its own value. */
export function hasFacts(
  held: Facts,
  asked: AskedFacts,
  parameters: ReadonlyMap<string, string> = NO_PARAMETERS,
): boolean {
  for (const [name, { values, parameters: named }] of asked) {
    const own = held.get(name) ?? NO_VALUES;
    if (own.some((value) => values.includes(value))) continue;
    if (!own.some((value) => named.some((parameter) => parameters.get(parameter) === value))) return false;
  }
  return true;
}

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();
const NO_VALUES: readonly string[] = [];

/** A fact that is asked for, with what would do and what somebody has of it. */
export interface LackingFact {
  readonly fact: string;
  readonly wanted: readonly string[];
  readonly held: readonly string[];
  /** The parameter of the path that says what is wanted; null where the policy does. */
  readonly parameter: string | null;
}

/** The facts that are asked for and that somebody does not have. */
export function lackingFacts(
  asked: AskedFacts,
  held: Facts,
  parameters: ReadonlyMap<string, string>,
): LackingFact[] {
  return [...asked].flatMap(([fact, each]): LackingFact[] => {
    if (hasFacts(held, new Map([[fact, each]]), parameters)) return [];
    const named = each.parameters.flatMap((name) => parameters.get(name) ?? []);
    const wanted = [...each.values, ...named];
    return [{ fact, wanted, held: held.get(fact) ?? [], parameter: each.parameters[0] ?? null }];
  });
}

/** What somebody lacks of some facts that are asked for, each with one value that would do: a parameter's goes first. */
function factsThatDo(asked: AskedFacts, held: Facts, parameters: ReadonlyMap<string, string>): Facts {
  const lacking = [...asked].filter((each) => !hasFacts(held, new Map([each]), parameters));
  return new Map(
    lacking.map(([name, { values, parameters: named }]) => {
      const inPath = named.flatMap((parameter) => parameters.get(parameter) ?? []);
      return [name, [...inPath, ...values].slice(0, 1)];
    }),
  );
}

function askedOf({ values, parameters }: AskedFact): ReadonlySet<string> {
  return new Set([...values, ...parameters.map((name) => `:${name}`)]);
}

/** What is asked of a fact: `basin east or basin west`, `the club that the path names in :club`. */
function factWords(name: string, { values, parameters }: AskedFact): string {
  return [
    ...values.map((value) => `${name} ${value}`),
    ...parameters.map((each) => `the ${name} that the path names in :${each}`),
  ].join(' or ');
}

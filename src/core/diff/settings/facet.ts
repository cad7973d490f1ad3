import type { Path } from '../../language/text/yaml-text.js';
import type { Seconds } from '../../time/duration.js';
import type { Audience } from '../../vocabulary/audience.js';
import { directionOfSets, opposite, type Direction, type Sides } from '../../vocabulary/direction.js';

/** What a setting is, for whoever writes it out. */
export type SettingValue =
  | { readonly is: 'absent' }
  | { readonly is: 'present' }
  /** null: no limit. */
  | { readonly is: 'duration'; readonly seconds: Seconds | null }
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'list'; readonly items: readonly string[] }
  | { readonly is: 'audience'; readonly audience: Audience };

/** A setting that two policies have otherwise. */
export interface SettingChange {
  /** As people name it: `session.idle`, `rule /office/**: for`. */
  readonly name: string;
  readonly before: SettingValue;
  readonly after: SettingValue;
  /** Where each policy says it; null where it says nothing of the kind. */
  readonly at: Sides<Path | null>;
  readonly direction: Direction;
}

/** What bears on every comparison: the roles that hold each role, before and after. */
export interface Surroundings {
  readonly holds: Sides<ReadonlyMap<string, ReadonlySet<string>>>;
}

/** Where a value stands, and what it is called. */
export interface Spot {
  readonly name: string;
  readonly at: Sides<Path>;
}

/** How one kind of value is compared. */
export interface Facet<Value> {
  /** Its keys in the file where they are not those of the model: `[]` for the place of the whole section. */
  readonly keys?: readonly string[];
  compare(values: Sides<Value>, spot: Spot, around: Surroundings): readonly SettingChange[];
}

/** A facet for each part of a section, so that none can be forgotten. */
export type Facets<Section> = { readonly [Key in Exclude<keyof Section, 'at'>]-?: Facet<Section[Key]> };

/** The facet of a value that is written under other keys than the model's. */
export function under<Value>(keys: string, facet: Facet<Value>): Facet<Value> {
  return { ...facet, keys: keys === '' ? [] : keys.split('.') };
}

/** What follows from another part, which is compared in its place. */
export const derived: Facet<unknown> = { compare: () => [] };

/** What one value is, and how it is less or more than another. */
interface Scalar<Value> {
  readonly shown: (value: Value) => SettingValue;
  readonly direction: (values: Sides<Value>) => Direction;
}

function scalar<Value>({ shown, direction }: Scalar<Value>): Facet<Value> {
  return {
    compare(values, { name, at }) {
      const [before, after] = [shown(values.before), shown(values.after)];
      if (JSON.stringify(before) === JSON.stringify(after)) return [];
      return [{ name, before, after, at, direction: direction(values) }];
    },
  };
}

export const ABSENT: SettingValue = { is: 'absent' };
export const text = (said: string): SettingValue => ({ is: 'text', text: said });

/** A time: a longer one loosens or tightens. null is no limit, and longer than all. */
export function lasts(longer: Direction): Facet<Seconds | null> {
  return scalar({
    shown: (seconds) => ({ is: 'duration', seconds }),
    direction: ({ before, after }) =>
      (after ?? Infinity) > (before ?? Infinity) ? longer : opposite(longer),
  });
}

/** A number of times. */
export function number(more: Direction): Facet<number> {
  return scalar({
    shown: (value) => text(String(value)),
    direction: ({ before, after }) => (after > before ? more : opposite(more)),
  });
}

/** Yes or no. */
export function flag(yes: Direction): Facet<boolean> {
  return scalar({
    shown: (value) => text(String(value)),
    direction: ({ after }) => (after ? yes : opposite(yes)),
  });
}

/** One of some words in order, the strictest first. */
export function ladder<const Word extends string>(...words: readonly Word[]): Facet<Word> {
  return scalar<Word>({
    shown: text,
    direction: ({ before, after }) => (words.indexOf(after) > words.indexOf(before) ? 'loosens' : 'tightens'),
  });
}

/** What is neither more nor less, in words; null is absent. */
export function other<Value>(words: (value: Value) => string | null): Facet<Value> {
  return scalar<Value>({
    shown: (value) => {
      const said = words(value);
      return said === null ? ABSENT : text(said);
    },
    direction: () => 'changes',
  });
}

export const word = other<string | number | boolean | null>((value) =>
  value === null ? null : String(value),
);

/** Things in any order: more of them loosens or tightens. Absent where null. */
export function several(more: Direction): Facet<Iterable<string> | null> {
  return scalar({
    shown: (values) => (values === null ? ABSENT : { is: 'list', items: [...new Set(values)].sort() }),
    direction(values) {
      if (values.before === null || values.after === null) return 'changes';
      return directionOfSets({ before: new Set(values.before), after: new Set(values.after) }, more);
    },
  });
}

/** Things whose order decides. */
export function inOrder<Item>(words: (item: Item) => string): Facet<readonly Item[]> {
  return scalar({
    shown: (items) => ({ is: 'list', items: items.map(words) }),
    direction: () => 'changes',
  });
}

/** A section of the policy, part by part; or that it is there at all. */
export function section<Section extends object>(
  facets: Facets<Section>,
  added: Direction,
  words: (section: Section) => SettingValue = () => ({ is: 'present' }),
): Facet<Section | null> {
  return {
    compare({ before, after }, spot, around) {
      const { name } = spot;
      if (before !== null && after !== null) {
        return comparedParts(facets, { before, after }, spot, around);
      }
      if (after !== null) {
        const at = { before: null, after: placeOf(after, spot.at.after) };
        return [{ name, before: ABSENT, after: words(after), at, direction: added }];
      }
      if (before !== null) {
        const at = { before: placeOf(before, spot.at.before), after: null };
        return [{ name, before: words(before), after: ABSENT, at, direction: opposite(added) }];
      }
      return [];
    },
  };
}

/** A section that is always there. */
export function always<Section extends object>(facets: Facets<Section>): Facet<Section> {
  return { compare: (values, spot, around) => comparedParts(facets, values, spot, around) };
}

/** Compares every part of a section that both policies have. */
export function comparedParts<Section extends object>(
  facets: Facets<Section>,
  { before, after }: Sides<Section>,
  { name, at }: Spot,
  around: Surroundings,
): SettingChange[] {
  const [was, is] = [placeOf(before, at.before), placeOf(after, at.after)];
  // The compiler cannot follow each facet through the list of keys: each is given the value of its own key.
  return Object.entries(facets as Readonly<Record<string, Facet<unknown>>>).flatMap(([key, facet]) => {
    const keys = facet.keys ?? [kebab(key)];
    const valueIn = (of: object) => (of as Readonly<Record<string, unknown>>)[key];
    const within = name === '' || keys.length === 0 ? '' : /[ :]/.test(name) ? ': ' : '.';
    const spot = {
      name: `${name}${within}${keys.join('.')}`,
      at: { before: [...was, ...keys], after: [...is, ...keys] },
    };
    return facet.compare({ before: valueIn(before), after: valueIn(after) }, spot, around);
  });
}

/** Things that are told apart by a name: each that only one policy has, and the parts of those that both have. */
export function named<Item extends object>(
  noun: string,
  nameOf: (item: Item) => string,
  facets: Facets<Item>,
  added: Direction,
  words: (item: Item) => SettingValue = () => ({ is: 'present' }),
): Facet<Iterable<Item>> {
  const one = section(facets, added, words);
  return {
    compare(values, { at }, around) {
      const [was, is] = [byName(values.before, nameOf), byName(values.after, nameOf)];
      return [...new Set([...was.keys(), ...is.keys()])].flatMap((name) =>
        one.compare(
          { before: was.get(name) ?? null, after: is.get(name) ?? null },
          { name: `${noun} ${name}`, at },
          around,
        ),
      );
    },
  };
}

/** The same of things of which the first that fits decides: another order is told too. */
export function inTurn<Item extends object>(
  noun: string,
  nameOf: (item: Item) => string,
  facets: Facets<Item>,
  added: Direction,
  words: (item: Item) => SettingValue,
): Facet<readonly Item[]> {
  const each = named(noun, nameOf, facets, added, words);
  return {
    compare(values, spot, around) {
      const [was, is] = [values.before.map(nameOf), values.after.map(nameOf)];
      const order = {
        before: was.filter((name) => is.includes(name)),
        after: is.filter((name) => was.includes(name)),
      };
      const moved = inOrder((name: string) => name);
      return [
        ...each.compare(values, spot, around),
        ...moved.compare(order, { ...spot, name: `the order of ${spot.name}` }, around),
      ];
    },
  };
}

/** Items by their names; of those with one name the first has it, and the others a number behind it. */
function byName<Item>(items: Iterable<Item>, nameOf: (item: Item) => string): Map<string, Item> {
  const found = new Map<string, Item>();
  for (const item of items) {
    const name = nameOf(item);
    let free = name;
    for (let number = 2; found.has(free); number++) free = `${name} (${number})`;
    found.set(free, item);
  }
  return found;
}

function placeOf(section: object, otherwise: Path): Path {
  return 'at' in section && Array.isArray(section.at) ? (section.at as Path) : otherwise;
}

/** A key of the model as it is written in the file. */
function kebab(key: string): string {
  return key.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
}

import type * as z from 'zod';
import type { Path } from '../language/text/yaml-text.js';
import { ANYBODY, type Audience, type SomeVisitors } from '../vocabulary/audience.js';
import type { Direction, Sides } from '../vocabulary/direction.js';
import { account } from './account.js';
import { all } from './all.js';
import { any } from './any.js';
import type { Condition, Limit, Owner, Reading, RolesHeld } from './condition.js';
import { facts } from './facts.js';
import { flags } from './flags.js';
import { joinedWithin } from './joined-within.js';
import { loginWithin } from './login-within.js';
import { none } from './none.js';
import { secondFactor } from './second-factor.js';

type Names = Exclude<keyof SomeVisitors, 'who'>;

/** Every condition, in the order in which they are asked, and so in which they are told of whoever is not admitted. */
const CONDITIONS = {
  any,
  all,
  none,
  facts,
  account,
  flags,
  joinedWithin,
  secondFactor,
  loginWithin,
} as const satisfies {
  readonly [Name in Names]: Pick<Condition<SomeVisitors[Name]>, 'key' | 'nothing' | 'isAsked'>;
};

/** A condition as whoever takes all alike sees it. */
type AnyCondition = Condition<unknown, unknown>;

/** The same list. The compiler cannot know that a condition is given only what is its own: the name sees to it. */
const ANY_CONDITIONS = Object.entries(CONDITIONS) as readonly unknown[] as readonly (readonly [
  Names,
  AnyCondition,
])[];

/** A condition that an audience asks, with what it asks. */
export interface Asked {
  readonly condition: AnyCondition;
  readonly value: unknown;
}

const known = new WeakMap<SomeVisitors, readonly Asked[]>();

/** The conditions of an audience of some visitors, in order. */
export function askedBy(audience: SomeVisitors): readonly Asked[] {
  let asked = known.get(audience);
  if (asked === undefined) {
    asked = ANY_CONDITIONS.flatMap(([name, condition]) =>
      condition.isAsked(audience[name]) ? [{ condition, value: audience[name] }] : [],
    );
    known.set(audience, asked);
  }
  return asked;
}

/** The conditions of any audience; none of one that is a word. */
export function conditionsOf(audience: Audience): readonly Asked[] {
  return audience.who === 'some' ? askedBy(audience) : NONE;
}

const NONE: readonly Asked[] = [];

/** What a policy may write of each condition, by its key. */
export function conditionSchemas(): Readonly<Record<string, z.ZodType>> {
  return Object.fromEntries(
    ANY_CONDITIONS.map(([, condition]) => [condition.key, condition.schema().optional()]),
  );
}

/** The audience of whoever is signed in and meets what is written, each condition by its key. */
export function readConditions(
  written: Readonly<Record<string, unknown>>,
  at: Path,
  reading: Reading,
): SomeVisitors {
  const read = ANY_CONDITIONS.flatMap(([name, condition]) => {
    const text = written[condition.key];
    return text === undefined ? [] : [[name, condition.read(text, [...at, condition.key], reading)] as const];
  });
  return { ...ANYBODY, ...(Object.fromEntries(read) as Partial<SomeVisitors>) };
}

/** In words: `bursar or harbourmaster, with a one-time code`. What may turn by itself is said last. */
export function audienceWords(audience: Audience): string {
  if (audience.who !== 'some') return audience.who;
  const asked = askedBy(audience);
  const isLast = ({ condition }: Asked) =>
    condition.reason === 'flag' || condition.reason === 'joined-long-ago';
  const parts = [...asked.filter((each) => !isLast(each)), ...asked.filter(isLast)].flatMap(
    ({ condition, value }) => condition.words(value),
  );
  const isOfPeople = asked.some(({ condition }) => condition.isOfPeople === true);
  return isOfPeople ? parts.join(', ') : ['signed-in', ...parts].join(', ');
}

/** A text that is the same for audiences of the same people. */
export function peopleKey(audience: SomeVisitors): string {
  return JSON.stringify(ANY_CONDITIONS.map(([name, condition]) => condition.keyed(audience[name])));
}

/** How more or fewer are admitted after a change of each condition; empty for no difference. */
export function compareConditions(
  { before, after }: Sides<SomeVisitors>,
  holds: Sides<RolesHeld>,
): readonly Direction[] {
  return ANY_CONDITIONS.flatMap(([name, condition]) =>
    condition.compare({ before: before[name], after: after[name] }, holds),
  );
}

/** What some audiences ask of the parameters of a path, for one account: each parameter with the values that would do. */
export function ownParameters(
  audiences: readonly Audience[],
  account: Owner,
): ReadonlyMap<string, readonly string[]> {
  const asked = audiences.flatMap(conditionsOf);
  return new Map(asked.flatMap(({ condition, value }) => condition.own?.(value, account) ?? []));
}

/** Whether an audience asks that a parameter of the path names somebody, or something, of the visitor's own. */
export function isBoundToPath(audience: Audience): boolean {
  return conditionsOf(audience).some(
    ({ condition, value }) => (condition.own?.(value, NOBODY) ?? NONE).length > 0,
  );
}

const NOBODY: Owner = { name: '', facts: new Map() };

const free = new WeakMap<SomeVisitors, SomeVisitors>();

/** An audience without what it asks of a path: which account, or which of the visitor's own facts, that names. */
export function apartFromPath(audience: Audience): Audience {
  if (audience.who !== 'some' || !isBoundToPath(audience)) return audience;
  let apart = free.get(audience);
  if (apart === undefined) {
    const without = ANY_CONDITIONS.flatMap(([name, condition]) =>
      condition.apartFromPath === undefined ? [] : [[name, condition.apartFromPath(audience[name])] as const],
    );
    free.set(audience, (apart = { ...audience, ...(Object.fromEntries(without) as Partial<SomeVisitors>) }));
  }
  return apart;
}

/** The times within which an audience admits, each with its key. */
export function limitsIn(audience: Audience): readonly (Limit & { readonly key: string })[] {
  return conditionsOf(audience).flatMap(({ condition, value }) => {
    const limit = condition.limit?.(value) ?? null;
    return limit === null ? [] : [{ ...limit, key: condition.key }];
  });
}

/** The keys of a table that is written out, in its order. An object can have more keys than its type tells; a literal has not. */
export function keysOf<Table extends object>(table: Table): readonly (keyof Table & string)[] {
  return Object.keys(table) as (keyof Table & string)[];
}

/** The same where there is at least one, as for a choice of words. */
export function wordsOf<Table extends object>(
  table: Table,
): [keyof Table & string, ...(keyof Table & string)[]] {
  const [first, ...others] = keysOf(table);
  if (first === undefined) throw new Error('a table without a row');
  return [first, ...others];
}

/** A value for each of some keys. The compiler cannot see that an object made of pairs has all of them. */
export function recordOf<Key extends string, Value>(
  keys: readonly Key[],
  valueOf: (key: Key) => Value,
): Readonly<Record<Key, Value>> {
  return Object.fromEntries(keys.map((key) => [key, valueOf(key)])) as Record<Key, Value>;
}

/** The number at an index that is known to be within: the compiler does not count, and a check would be on the hottest paths. */
export function at(numbers: readonly number[], index: number): number {
  return numbers[index] as number;
}

/** What stands under a key of whatever was read; undefined where it is no map, or has no such key of its own. */
export function valueUnder(value: unknown, key: string | number): unknown {
  if (typeof value !== 'object' || value === null || !Object.hasOwn(value, key)) return undefined;
  const found: unknown = Reflect.get(value, key);
  return found;
}

/** The entries of whatever was read; none where it is no list. */
export function entriesOf(value: unknown): readonly unknown[] {
  return Array.isArray(value) ? value : [];
}

// Step 2 of docs/proof-method.md: situations and moves.

/** New numbers for old ones, given in the order in which they are asked for. */
export class Numbers {
  readonly old: number[] = [];
  private readonly given: number[] = [];

  of(old: number): number {
    const known = this.given[old];
    if (known !== undefined) return known;
    const next = this.old.length;
    this.old.push(old);
    this.given[old] = next;
    return next;
  }
}

/** A map in the order of its keys. */
export function sorted<Value>(map: ReadonlyMap<string, Value>): ReadonlyMap<string, Value> {
  return map.size < 2 ? map : new Map([...map].sort(([a], [b]) => (a < b ? -1 : 1)));
}

export function mapped<Value>(
  map: ReadonlyMap<string, Value>,
  make: (value: Value) => Value,
): ReadonlyMap<string, Value> {
  return map.size === 0 ? map : new Map([...map].map(([key, value]) => [key, make(value)]));
}

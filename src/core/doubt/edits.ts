import type { Path } from '../language/text/yaml-text.js';

/** A value as YAML gives it. */
export type Plain = unknown;

const isMap = (value: Plain): value is Readonly<Record<string, Plain>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What stands at a path; undefined where nothing does. */
export function valueAt(value: Plain, path: Path): Plain {
  return path.reduce<Plain>((here, key) => {
    if (typeof here !== 'object' || here === null || !Object.hasOwn(here, key)) return undefined;
    return (here as Readonly<Record<string | number, Plain>>)[key];
  }, value);
}

/** A value in which something else stands at a path; undefined takes away what is there. The rest is shared. */
export function withValue(value: Plain, path: Path, next: Plain): Plain {
  const [key, ...rest] = path;
  if (key === undefined) return next;
  if (Array.isArray(value)) {
    const items = [...(value as readonly Plain[])];
    const at = Number(key);
    if (rest.length === 0 && next === undefined) items.splice(at, 1);
    else items[at] = withValue(items[at], rest, next);
    return items;
  }
  const entries = isMap(value) ? Object.entries(value) : [];
  const changed = withValue(isMap(value) ? value[key] : undefined, rest, next);
  const others = entries.map(([name, each]) => [name, name === String(key) ? changed : each] as const);
  const all = entries.some(([name]) => name === String(key))
    ? others
    : [...others, [String(key), changed] as const];
  return Object.fromEntries(all.filter(([, each]) => each !== undefined));
}

/** Every value of a tree with its path, the whole first. */
export function* nodesOf(value: Plain, path: Path = []): Generator<readonly [Path, Plain]> {
  yield [path, value];
  if (typeof value !== 'object' || value === null) return;
  for (const [key, each] of Object.entries(value)) {
    yield* nodesOf(each, [...path, Array.isArray(value) ? Number(key) : key]);
  }
}

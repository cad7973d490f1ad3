import type { Pattern } from '../paths/pattern.js';

/** Whether all addresses of a pattern lie below those of another: it goes on where the other ends. */
export function isBelow(pattern: Pattern, above: Pattern): boolean {
  if (above.tail || above.segments.length === 0) return false;
  const { segments, tail } = pattern;
  const isLonger =
    segments.length > above.segments.length || (tail && segments.length === above.segments.length);
  return (
    isLonger &&
    above.segments.every((segment, at) => {
      const own = segments[at];
      if (own === undefined) return false;
      return segment.kind !== 'literal' || (own.kind === 'literal' && own.text === segment.text);
    })
  );
}

interface Branch<Item> {
  readonly literal: Map<string, Branch<Item>>;
  /** Below a parameter; null for none. */
  any: Branch<Item> | null;
  readonly here: { readonly order: number; readonly item: Item }[];
}

/** Patterns by their segments, so that those above another are found without looking at all. */
export class Branches<Item> {
  private readonly root: Branch<Item> = branch();
  private count = 0;

  add({ segments, tail }: Pattern, item: Item): void {
    // Nothing lies below what takes everything below it, nor is anything said to lie below the root.
    if (tail || segments.length === 0) return;
    let at = this.root;
    for (const segment of segments) {
      if (segment.kind === 'literal') {
        let next = at.literal.get(segment.text);
        if (next === undefined) at.literal.set(segment.text, (next = branch()));
        at = next;
      } else at = at.any ??= branch();
    }
    at.here.push({ order: this.count++, item });
  }

  /** What was added with a pattern below which another lies (`isBelow`), in the order in which it was. */
  above({ segments, tail }: Pattern): Item[] {
    const found: Branch<Item>['here'] = [];
    let level = [this.root];
    const most = tail ? segments.length : segments.length - 1;
    for (const segment of segments.slice(0, Math.max(0, most))) {
      level = level.flatMap(({ literal, any }) => {
        const own = segment.kind === 'literal' ? literal.get(segment.text) : undefined;
        return [own, any].filter((next) => next !== undefined && next !== null);
      });
      for (const { here } of level) found.push(...here);
    }
    return found.sort((one, other) => one.order - other.order).map(({ item }) => item);
  }
}

function branch<Item>(): Branch<Item> {
  return { literal: new Map(), any: null, here: [] };
}

import type { Pattern } from './pattern.js';

/** A set of patterns that is asked which of them is the most specific one for a path. */
export class PageIndex<T> {
  private readonly root = new Branch<T>();

  /** Adds a value under a pattern. Gives the value that already covers exactly the same addresses, and adds nothing then. */
  add(pattern: Pattern, value: T): T | null {
    let branch = this.root;
    for (const segment of pattern.segments) {
      branch = segment.kind === 'literal' ? branch.literal(segment.text) : branch.wild(segment.kind);
    }
    const slot = pattern.tail ? 'tail' : 'end';
    const holder = branch[slot];
    if (holder !== null) return holder.value;
    branch[slot] = { value };
    return null;
  }

  /**
   * The value of the most specific pattern that matches: segment by segment a literal goes before `:name`, that before
   * `*`, that before `**`; a pattern that ends where the path does goes before `**` for nothing.
   */
  find(path: readonly string[]): T | null {
    return lookUp(this.root, path, 0)?.value ?? null;
  }
}

class Branch<T> {
  literals: Map<string, Branch<T>> | null = null;
  name: Branch<T> | null = null;
  any: Branch<T> | null = null;
  end: { readonly value: T } | null = null;
  tail: { readonly value: T } | null = null;

  literal(text: string): Branch<T> {
    this.literals ??= new Map();
    let branch = this.literals.get(text);
    if (branch === undefined) this.literals.set(text, (branch = new Branch()));
    return branch;
  }

  wild(kind: 'name' | 'any'): Branch<T> {
    return (this[kind] ??= new Branch());
  }
}

/** Depth is at most that of the patterns, which is limited where they are read. */
function lookUp<T>(branch: Branch<T>, path: readonly string[], at: number): { readonly value: T } | null {
  const segment = path[at];
  if (segment === undefined) return branch.end ?? branch.tail;
  const wild = segment === '' ? [] : [branch.name, branch.any];
  for (const next of [branch.literals?.get(segment), ...wild]) {
    const found = next ? lookUp(next, path, at + 1) : null;
    if (found !== null) return found;
  }
  return branch.tail;
}

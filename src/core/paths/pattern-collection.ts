import type { Pattern } from './pattern.js';

/** Values under patterns that may overlap, asked for all of those whose pattern matches a path. */
export class PatternCollection<T> {
  private readonly root = new Branch<T>();

  add(pattern: Pattern, value: T): void {
    let branch = this.root;
    for (const segment of pattern.segments) {
      branch = segment.kind === 'literal' ? branch.literal(segment.text) : branch.open();
    }
    (pattern.tail ? branch.tails : branch.ends).push(value);
  }

  /** The values of every pattern that matches the segments of a normalised path, in no particular order. */
  find(path: readonly string[]): T[] {
    const found: T[] = [];
    let branches = [this.root];
    for (const segment of path) {
      const next: Branch<T>[] = [];
      for (const branch of branches) {
        found.push(...branch.tails);
        const named = branch.literals.get(segment);
        if (named !== undefined) next.push(named);
        if (branch.wild !== null && segment !== '') next.push(branch.wild);
      }
      branches = next;
      if (branches.length === 0) return found;
    }
    for (const branch of branches) found.push(...branch.tails, ...branch.ends);
    return found;
  }
}

class Branch<T> {
  readonly literals = new Map<string, Branch<T>>();
  wild: Branch<T> | null = null;
  readonly ends: T[] = [];
  readonly tails: T[] = [];

  literal(text: string): Branch<T> {
    let branch = this.literals.get(text);
    if (branch === undefined) this.literals.set(text, (branch = new Branch()));
    return branch;
  }

  open(): Branch<T> {
    return (this.wild ??= new Branch());
  }
}

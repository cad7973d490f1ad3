/** Whether more can happen after a change than before, less, or something else. */
export type Direction = 'loosens' | 'tightens' | 'changes';

/** One thing of the policy before, and its match of the policy after. */
export interface Sides<T> {
  readonly before: T;
  readonly after: T;
}

/** The same the other way about. */
export function opposite(direction: Direction): Direction {
  return direction === 'loosens' ? 'tightens' : direction === 'tightens' ? 'loosens' : 'changes';
}

/** What several changes of one thing come to. */
export function together(directions: readonly Direction[]): Direction {
  const [first = 'changes', ...others] = directions;
  return others.every((each) => each === first) ? first : 'changes';
}

/** What it comes to that a set has gained, or lost, something. */
export function directionOfSets(sets: Sides<ReadonlySet<string>>, more: Direction): Direction {
  const gains = [...sets.after].some((each) => !sets.before.has(each));
  const loses = [...sets.before].some((each) => !sets.after.has(each));
  return gains && loses ? 'changes' : gains ? more : opposite(more);
}

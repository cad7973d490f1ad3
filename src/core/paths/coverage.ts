import { matches, type Pattern, type Segment } from './pattern.js';

/** What is left of a pattern's addresses once other patterns have taken theirs. */
export type Coverage =
  | { readonly covered: true; /** Those that together cover it. */ readonly by: readonly Pattern[] }
  | {
      readonly covered: false;
      /** An address that only the pattern itself matches. */ readonly sample: string;
    };

/**
 * Settles exactly whether every address of a pattern is matched by at least one of the others.
 *
 * A wildcard of the pattern is settled by a segment that none of the others names: whoever matches that one matches any,
 * since a literal can only add matches. So one address for each length that matters decides, up to one segment beyond
 * the longest of the others, where only their tails are left.
 */
export function coverage(pattern: Pattern, all: readonly Pattern[]): Coverage {
  const others = all.filter((other) => mayMeet(pattern, other));
  const unnamed = unnamedSegment([pattern, ...others]);
  const fixed = pattern.segments.map((segment) => (segment.kind === 'literal' ? segment.text : unnamed));
  const longest = Math.max(fixed.length, ...others.map((other) => other.segments.length)) + 1;
  const by = new Set<Pattern>();
  for (let length = fixed.length; length <= (pattern.tail ? longest : fixed.length); length++) {
    const path = [...fixed, ...Array<string>(length - fixed.length).fill(unnamed)];
    const first = others.find((other) => matches(other, path));
    if (first === undefined) return { covered: false, sample: `/${path.join('/')}` };
    by.add(first);
  }
  return { covered: true, by: [...by] };
}

/** Whether no literal keeps two patterns apart. */
function mayMeet(one: Pattern, other: Pattern): boolean {
  return one.segments.every((segment, at) => {
    const theirs = other.segments[at];
    return segment.kind !== 'literal' || theirs?.kind !== 'literal' || segment.text === theirs.text;
  });
}

/** An address that a pattern matches, with the given text for each segment it leaves open. */
export function sampleAddress(pattern: Pattern, fill: (segment: Segment) => string): string {
  return `/${pattern.segments.map((segment) => (segment.kind === 'literal' ? segment.text : fill(segment))).join('/')}`;
}

function unnamedSegment(patterns: readonly Pattern[]): string {
  const named = new Set(
    patterns.flatMap((pattern) =>
      pattern.segments.map((segment) => (segment.kind === 'literal' ? segment.text : '')),
    ),
  );
  let name = 'x';
  while (named.has(name)) name += 'x';
  return name;
}

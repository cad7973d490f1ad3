import type { PathRules } from './path-rules.js';
import type { Pattern, Segment } from './pattern.js';

/** A pattern as paths are compared with it: in small letters, where letters count the same in either case. */
export function folded(pattern: Pattern, { letterCase }: Pick<PathRules, 'letterCase'>): Pattern {
  if (letterCase === 'same') return pattern;
  const fold = (segment: Segment): Segment =>
    segment.kind === 'literal' ? { kind: 'literal', text: segment.text.toLowerCase() } : segment;
  return { ...pattern, segments: pattern.segments.map(fold) };
}

/** The segments of a path as patterns are compared with them. */
export function foldedSegments(
  segments: readonly string[],
  { letterCase }: Pick<PathRules, 'letterCase'>,
): readonly string[] {
  return letterCase === 'same' ? segments : segments.map((segment) => segment.toLowerCase());
}

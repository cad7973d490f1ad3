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

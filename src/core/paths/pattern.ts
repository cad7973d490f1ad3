import { encodedPath, normalisePath } from './normalise.js';

/** One segment of a pattern: fixed text, `:name` (one segment, kept under its name) or `*` (any one segment). */
export type Segment =
  | { readonly kind: 'literal'; readonly text: string }
  | { readonly kind: 'name'; readonly name: string }
  | { readonly kind: 'any' };

/** A path pattern of the language. */
export interface Pattern {
  /** As it was written. */
  readonly text: string;
  readonly segments: readonly Segment[];
  /** Whether it ends in `**`: the rest of the path, also nothing. */
  readonly tail: boolean;
}

/** Longer addresses no browser or server takes for certain (RFC 9110 §4.1 asks for 8,000 octets of a whole request line). */
export const LONGEST_PATH = 2_000;

/** Characters that nobody sees, or that turn the direction of what is read: two addresses could look alike. */
export const UNSEEN = /[\p{C}\p{Z}\p{Default_Ignorable_Code_Point}]/u;
export const UNSEEN_FAULT = 'it holds a character that nobody sees; write its bytes, such as %E2%80%AE';

/**
 * Reads a path pattern; gives a sentence on what is wrong with a bad one.
 *
 * @example parsePattern('/berths/:id/**')
 * @example parsePattern('berths') // 'it must start with a slash'
 */
export function parsePattern(text: string): Pattern | string {
  if (!text.startsWith('/')) return 'it must start with a slash';
  if (text.length > LONGEST_PATH) return `it is longer than ${LONGEST_PATH} characters`;
  if (/[?#]/.test(text)) return 'a query or fragment never takes part in matching';
  // eslint-disable-next-line no-control-regex
  if (/[\s\\\u0000-\u001f\u007f]/.test(text)) return 'it holds a space, a backslash or a control character';
  if (UNSEEN.test(text)) return UNSEEN_FAULT;
  const parts = text === '/' ? [] : text.slice(1).split('/');
  if (parts.length > 40) return 'it has more than 40 segments';
  const tail = parts.at(-1) === '**';
  const segments: Segment[] = [];
  const names = new Set<string>();
  for (const part of tail ? parts.slice(0, -1) : parts) {
    const segment = parseSegment(part);
    if (typeof segment === 'string') return segment;
    if (segment.kind === 'name') {
      if (names.has(segment.name)) return `the parameter :${segment.name} stands in it twice`;
      names.add(segment.name);
    }
    segments.push(segment);
  }
  return { text, segments, tail };
}

function parseSegment(part: string): Segment | string {
  if (part === '') return 'it has an empty segment';
  if (part === '*') return { kind: 'any' };
  if (part === '**') return '** may only stand at its end';
  if (part.startsWith(':')) {
    return /^:[A-Za-z][\w-]*$/.test(part)
      ? { kind: 'name', name: part.slice(1) }
      : `${part} is no parameter name`;
  }
  if (part.includes('*')) return `a star stands for a whole segment, not for a part of ${part}`;
  // Written letters beyond ASCII match as browsers send them: percent-encoded.
  const normal = normalisePath(`/${encodedPath(part)}`);
  if (normal === null || normal === '/') return `the segment ${part} cannot be matched safely`;
  return { kind: 'literal', text: normal.slice(1) };
}

/** The segments of a normalised path. */
export function segmentsOf(path: string): readonly string[] {
  return path === '/' ? [] : path.slice(1).split('/');
}

/** Whether a pattern matches the segments of a normalised path. */
export function matches(pattern: Pattern, path: readonly string[]): boolean {
  const { segments, tail } = pattern;
  if (tail ? path.length < segments.length : path.length !== segments.length) return false;
  return segments.every((segment, at) => fits(segment, path[at] ?? ''));
}

/** An empty segment is there where an app keeps it: no parameter stands for it. */
function fits(segment: Segment, text: string): boolean {
  return segment.kind === 'literal' ? segment.text === text : text !== '';
}

/** The value of each named segment, for a path that the pattern matches. */
export function parametersOf(pattern: Pattern, path: readonly string[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  pattern.segments.forEach((segment, at) => {
    if (segment.kind === 'name') found.set(segment.name, decoded(path[at] ?? ''));
  });
  return found;
}

/** A segment as an app reads it; one that is no UTF-8 stays as it is. */
function decoded(segment: string): string {
  if (!segment.includes('%')) return segment;
  try {
    return decodeURIComponent(segment);
  } catch {
    return segment;
  }
}

/** The names of a pattern's parameters. */
export function parameterNames(pattern: Pattern): string[] {
  return pattern.segments.flatMap((segment) => (segment.kind === 'name' ? [segment.name] : []));
}

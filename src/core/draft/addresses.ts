import { patternOf } from '../language/text/name-reader.js';
import { matches, parsePattern, segmentsOf, type Pattern } from '../paths/pattern.js';
import { normalisePath } from '../paths/normalise.js';

/** Segments that name one of many: numbers, keys and long random texts. */
const ONE_OF_MANY =
  /^(?:\d+|[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}|[0-9a-f]{16,}|(?=[^/]*\d)[\w~-]{20,})$/i;

/** Long random texts are secrets, as those of links that were sent by mail. */
const SECRET = /^(?=[^/]*\d)[\w~-]{20,}$/;

/** Login names that are words of addresses as well, and nobody's own. */
const ORDINARY =
  /^(?:admin|administrator|root|users?|guests?|tests?|demo|manager|editor|staff|support|owner|member)$/i;

/** The parameters of a pattern, with their colons. */
export function parametersIn(pattern: string): readonly string[] {
  return pattern.match(/:[A-Za-z][\w-]*/g) ?? [];
}

/** Turns addresses that were asked for into patterns of the language, with the help of the patterns that are described. */
export class Addresses {
  private readonly described: readonly Pattern[];
  private readonly known = new Map<string, string>();

  /**
   * @param described patterns that a description has
   * @param people what people are called in the policy, by what they log in as
   */
  constructor(
    described: readonly string[],
    private readonly people: ReadonlyMap<string, string>,
  ) {
    this.described = described
      .map(parsePattern)
      .filter((pattern) => typeof pattern !== 'string')
      .sort((one, other) => openness(one) - openness(other));
  }

  /** The pattern of a path; null for one that no policy can have. */
  patternOf(path: string): string | null {
    const known = this.known.get(path);
    if (known !== undefined) return known;
    const normal = normalisePath(path);
    if (normal === null) return null;
    const segments = segmentsOf(normal.replace(/(?<=.)\/$/, ''));
    const found =
      this.described.find((pattern) => matches(pattern, segments))?.text ?? this.guessed(segments);
    if (typeof patternOf(found) === 'string') return null;
    this.known.set(path, found);
    return found;
  }

  /** Whether a pattern stands for more than the addresses that were seen. */
  isGuessed(pattern: string): boolean {
    return pattern.includes('/:') && !this.described.some(({ text }) => text === pattern);
  }

  /** Whether somebody logs in under a text. */
  isLoginName(text: string): boolean {
    return this.people.has(text);
  }

  /** An address as it may be written down: names of people and secrets are others, and queries are left out. */
  safe(path: string): string {
    const parts = path.split('/').map((part) => {
      const name = this.personAt(part);
      if (name !== null) return encodeURIComponent(name);
      return SECRET.test(part) ? 'made-up-0' : readable(part);
    });
    return parts.join('/');
  }

  /** Whose page of many an address is, as the policy calls them; null for nobody's. */
  ownerIn(path: string): string | null {
    const [, , ...later] = path.split('/');
    return later.map((part) => this.personAt(part)).find((name) => name !== null) ?? null;
  }

  /** Who is named by a segment, as the policy calls them; null for nobody. */
  private personAt(segment: string): string | null {
    const text = decoded(segment);
    return ORDINARY.test(text) ? null : (this.people.get(text) ?? null);
  }

  private guessed(segments: readonly string[]): string {
    const used = new Map<string, number>();
    const named = (name: string) => {
      const count = (used.get(name) ?? 0) + 1;
      used.set(name, count);
      return `:${name}${count === 1 ? '' : count}`;
    };
    const parts = segments.map((segment, at) => {
      const person = this.personAt(segment);
      // A page of everybody's at the top would stand for all others too.
      if (person !== null) return at === 0 ? encodeURIComponent(person) : named('account');
      if (ONE_OF_MANY.test(segment)) return named('id');
      return segment.includes('*') || segment.startsWith(':') ? '*' : readable(segment);
    });
    return `/${parts.join('/')}`;
  }
}

function openness({ segments, tail }: Pattern): number {
  return segments.filter(({ kind }) => kind !== 'literal').length + (tail ? 100 : 0);
}

/** A segment with its letters as people read them, not as the bytes that are sent. */
function readable(segment: string): string {
  const text = decoded(segment);
  return /^[\p{L}\p{M}\p{N}._~-]+$/u.test(text) ? text : segment;
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

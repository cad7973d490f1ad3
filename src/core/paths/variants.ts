import type { Routing } from '../language/policy.js';

/** Spellings of one letter's case that are tried for a path, at most. */
const MOST_LETTERS = 60;

/**
 * Other spellings of a path that an app may read as the same one, or that take it beyond what a careful one would read: with
 * other letters' case, a slash at the end or in the middle, and escapes. None for an app that reads paths carefully throughout.
 *
 * @param hasExpressions whether expressions are compared with paths, which may see spellings that patterns do not
 */
export function variantsOf(path: string, routing: Routing, hasExpressions: boolean): string[] {
  const isSeen = hasExpressions && routing.expressions === 'as-sent';
  const variants: string[] = [];
  if (hasExpressions && routing.letterCase === 'ignored') variants.push(...otherCases(path));
  if (path !== '/' && (isSeen || routing.trailingSlash !== 'same')) variants.push(`${path}/`);
  const inner = path.indexOf('/', 1);
  if (isSeen || routing.emptySegments === 'kept') {
    variants.push(inner < 0 ? `${path}//` : `${path.slice(0, inner)}/${path.slice(inner)}`);
  }
  if (isSeen || !routing.decodes) {
    variants.push(
      path.replace(/[A-Za-z0-9]/, (letter) => `%${letter.charCodeAt(0).toString(16).toUpperCase()}`),
    );
  }
  if (routing.encodedSlash === 'kept') variants.push(`${path === '/' ? '' : path}%2Fx`);
  return [...new Set(variants)].filter((each) => each !== path);
}

/** A path in capitals, in small letters, and with one letter at a time in the other case. */
function otherCases(path: string): string[] {
  const flipped = path
    .slice(0, MOST_LETTERS)
    .split('')
    .flatMap((letter, at) =>
      /[a-z]/i.test(letter) && !/%.?$/.test(path.slice(0, at))
        ? [path.slice(0, at) + otherCase(letter) + path.slice(at + 1)]
        : [],
    );
  return [path.replace(/%..|[a-z]+/g, (part) => part.toUpperCase()), path.toLowerCase(), ...flipped];
}

function otherCase(letter: string): string {
  return letter === letter.toLowerCase() ? letter.toUpperCase() : letter.toLowerCase();
}

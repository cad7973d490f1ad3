import type { PathRules } from './path-rules.js';

/** How an app reads paths; see `PathRules`. */
export type Reading = Pick<PathRules, 'decodes' | 'trailingSlash' | 'encodedSlash' | 'emptySegments'>;

const CAREFUL: Reading = {
  decodes: true,
  trailingSlash: 'same',
  encodedSlash: 'refused',
  emptySegments: 'dropped',
};

/**
 * Normalises the path of a request as a careful server does before it compares it with anything (RFC 3986 §6.2.2):
 * unreserved characters are percent-decoded, other escapes get capital digits, dot segments and empty segments go.
 * Gives null where no safe reading exists: a broken escape, an encoded slash, any backslash, NUL, a character that should
 * have been encoded, or dot segments that climb above the root.
 *
 * @param reading what an app does otherwise: it may leave escapes as they are, or keep encoded slashes and empty segments
 * @example normalisePath('/a/./b//%7Ec/') // '/a/b/~c'
 * @example normalisePath('/a%2Fb')        // null
 */
export function normalisePath(raw: string, reading: Reading = CAREFUL): string | null {
  if (!NEEDS_WORK.test(raw)) return raw.startsWith('/') ? raw : null;
  if (!raw.startsWith('/') || UNSAFE.test(raw)) return null;
  // Who decodes nothing finds nothing wrong with an escape that is none.
  if (reading.decodes && hasBrokenEscape(raw)) return null;
  if (reading.encodedSlash === 'refused' && ENCODED_SLASH.test(raw)) return null;
  const decoded = raw.replace(/%([0-9a-f]{2})/gi, (escape, hex: string) => {
    const character = String.fromCharCode(parseInt(hex, 16));
    return reading.decodes && UNRESERVED.test(character) ? character : escape.toUpperCase();
  });
  return withoutDots(decoded, reading);
}

/** Whether a percent sign is followed by anything but two digits of sixteen. */
export function hasBrokenEscape(path: string): boolean {
  return /%(?![0-9a-f]{2})/i.test(path);
}

/** A path without dot segments, and without the empty ones that do not count; null where it climbs above the root. */
function withoutDots(path: string, { trailingSlash, emptySegments }: Reading): string | null {
  const segments: string[] = [];
  const all = path.slice(1).split('/');
  const isFolder = all.at(-1) === '' || all.at(-1) === '.' || all.at(-1) === '..';
  if (all.at(-1) === '') all.pop();
  for (const segment of all) {
    if (segment === '..') {
      if (segments.pop() === undefined) return null;
    } else if (segment !== '.' && (segment !== '' || emptySegments === 'kept')) {
      segments.push(segment);
    }
  }
  // An empty last segment needs its slash behind it, or it would be lost where the path is read again.
  const isEmpty = segments.length > 1 && segments.at(-1) === '' && trailingSlash !== 'different';
  const isTold = isEmpty || (isFolder && trailingSlash === 'different' && segments.length > 0);
  return `/${segments.join('/')}${isTold ? '/' : ''}`;
}

/** A path as somebody wrote it, encoded as browsers send it; what is encoded already stays as it is. */
export function encodedPath(written: string): string {
  return encodeURI(written.toWellFormed()).replaceAll('%25', '%');
}

/** An escape, a backslash, a dot that starts a segment, an empty segment, a slash at the end, or what no path may hold. */
const NEEDS_WORK = /[^!$&'()*+,\-./0-9:;=@A-Z_a-z~]|\/\.|\/\/|.\/$/;

const UNSAFE = /%00|\\|[^\u0021-\u007e]/i;
const ENCODED_SLASH = /%2f|%5c/i;
const UNRESERVED = /[A-Za-z0-9\-._~]/;

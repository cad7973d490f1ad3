/**
 * Normalises the path of a request as a careful server does before it compares it with anything (RFC 3986 §6.2.2):
 * unreserved characters are percent-decoded, other escapes get capital digits, dot segments and empty segments go.
 * Gives null where no safe reading exists: a broken escape, an encoded slash, any backslash, NUL, a character that should
 * have been encoded, or dot segments that climb above the root.
 *
 * @example normalisePath('/a/./b//%7Ec/') // '/a/b/~c'
 * @example normalisePath('/a%2Fb')        // null
 */
export function normalisePath(raw: string): string | null {
  if (!NEEDS_WORK.test(raw)) return raw.startsWith('/') ? raw : null;
  if (!raw.startsWith('/') || UNSAFE.test(raw)) return null;
  const decoded = raw.replace(/%([0-9a-f]{2})/gi, (escape, hex: string) => {
    const character = String.fromCharCode(parseInt(hex, 16));
    return UNRESERVED.test(character) ? character : escape.toUpperCase();
  });
  const segments: string[] = [];
  for (const segment of decoded.split('/')) {
    if (segment === '..') {
      if (segments.pop() === undefined) return null;
    } else if (segment !== '' && segment !== '.') {
      segments.push(segment);
    }
  }
  return `/${segments.join('/')}`;
}

/** A path as somebody wrote it, encoded as browsers send it; what is encoded already stays as it is. */
export function encodedPath(written: string): string {
  return encodeURI(written.toWellFormed()).replaceAll('%25', '%');
}

/** An escape, a backslash, a dot that starts a segment, an empty segment, a slash at the end, or what no path may hold. */
const NEEDS_WORK = /[^!$&'()*+,\-./0-9:;=@A-Z_a-z~]|\/\.|\/\/|.\/$/;

const UNSAFE = /%(?![0-9a-f]{2})|%2f|%5c|%00|\\|[^\u0021-\u007e]/i;
const UNRESERVED = /[A-Za-z0-9\-._~]/;

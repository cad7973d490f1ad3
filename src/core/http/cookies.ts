import type { Seconds } from '../language/duration.js';

/** What one Set-Cookie header says (RFC 6265bis §4.1), for the attributes that an app of the language can send. */
export interface SetCookie {
  readonly name: string;
  readonly value: string;
  readonly path: string | null;
  readonly secure: boolean;
  readonly httpOnly: boolean;
  readonly sameSite: 'lax' | 'strict' | 'none' | null;
  readonly maxAge: Seconds | null;
}

/** Writes a Set-Cookie header (RFC 6265bis §4.1.1). */
export function writeSetCookie(cookie: SetCookie): string {
  let text = `${cookie.name}=${cookie.value}`;
  if (cookie.path !== null) text += `; Path=${cookie.path}`;
  if (cookie.maxAge !== null) text += `; Max-Age=${cookie.maxAge}`;
  if (cookie.secure) text += '; Secure';
  if (cookie.httpOnly) text += '; HttpOnly';
  if (cookie.sameSite !== null) text += `; SameSite=${SAME_SITE[cookie.sameSite]}`;
  return text;
}

const SAME_SITE = { lax: 'Lax', strict: 'Strict', none: 'None' } as const;

/** Reads a Set-Cookie header by the algorithm of RFC 6265bis §5.6; null where that says to ignore it. */
export function readSetCookie(header: string): SetCookie | null {
  const attributesAt = endOf(header, ';', 0);
  // §5.6 steps 3 and 4: a pair without "=" has an empty name; surrounding white space goes.
  const equals = header.indexOf('=');
  const hasName = equals >= 0 && equals < attributesAt;
  const name = hasName ? header.slice(0, equals).trim() : '';
  const value = header.slice(hasName ? equals + 1 : 0, attributesAt).trim();
  // §5.6 step 5: both empty, or together longer than 4096 octets: ignored.
  if ((name === '' && value === '') || name.length + value.length > 4096) return null;
  const cookie = { name, value, path: null, secure: false, httpOnly: false, sameSite: null, maxAge: null };
  for (let at = attributesAt + 1; at <= header.length;) {
    const end = endOf(header, ';', at);
    readAttribute(cookie, header.slice(at, end));
    at = end + 1;
  }
  return cookie;
}

/** One attribute (RFC 6265bis §5.6.2 Max-Age, §5.6.4 Path, §5.6.5 Secure, §5.6.6 HttpOnly, §5.6.7 SameSite). */
function readAttribute(
  cookie: { -readonly [Key in keyof SetCookie]: SetCookie[Key] },
  attribute: string,
): void {
  const equals = endOf(attribute, '=', 0);
  const name = attribute.slice(0, equals).trim().toLowerCase();
  const value = attribute.slice(equals + 1).trim();
  switch (name) {
    case 'secure':
      cookie.secure = true;
      break;
    case 'httponly':
      cookie.httpOnly = true;
      break;
    case 'path':
      cookie.path = value.startsWith('/') ? value : null;
      break;
    case 'max-age':
      if (/^-?\d+$/.test(value)) cookie.maxAge = Number(value);
      break;
    case 'samesite':
      cookie.sameSite =
        (['lax', 'strict', 'none'] as const).find((known) => known === value.toLowerCase()) ?? null;
      break;
  }
}

/** The offset of a character from a place on, or the end of the text. */
function endOf(text: string, character: string, from: number): number {
  const at = text.indexOf(character, from);
  return at < 0 ? text.length : at;
}

/** The value of the first cookie of a name in a Cookie header (RFC 6265bis §4.2.1); null where there is none. */
export function cookieValue(header: string, name: string): string | null {
  for (let at = 0; at < header.length;) {
    const end = endOf(header, ';', at);
    if (header.startsWith(name, at) && header.charCodeAt(at + name.length) === 61) {
      return header.slice(at + name.length + 1, end);
    }
    at = end + 2;
  }
  return null;
}

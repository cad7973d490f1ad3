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
  const [pair = '', ...attributes] = header.split(';');
  // §5.6 steps 3 and 4: a pair without "=" has an empty name; surrounding white space goes.
  const equals = pair.indexOf('=');
  const name = equals < 0 ? '' : pair.slice(0, equals).trim();
  const value = pair.slice(equals + 1).trim();
  // §5.6 step 5: both empty, or together longer than 4096 octets: ignored.
  if ((name === '' && value === '') || name.length + value.length > 4096) return null;
  let cookie: SetCookie = {
    name,
    value,
    path: null,
    secure: false,
    httpOnly: false,
    sameSite: null,
    maxAge: null,
  };
  for (const attribute of attributes) cookie = { ...cookie, ...readAttribute(attribute) };
  return cookie;
}

/** One attribute (RFC 6265bis §5.6.2 Max-Age, §5.6.4 Path, §5.6.5 Secure, §5.6.6 HttpOnly, §5.6.7 SameSite). */
function readAttribute(attribute: string): Partial<SetCookie> {
  const equals = attribute.indexOf('=');
  const name = (equals < 0 ? attribute : attribute.slice(0, equals)).trim().toLowerCase();
  const value = equals < 0 ? '' : attribute.slice(equals + 1).trim();
  switch (name) {
    case 'secure':
      return { secure: true };
    case 'httponly':
      return { httpOnly: true };
    case 'path':
      return { path: value.startsWith('/') ? value : null };
    case 'max-age':
      return /^-?\d+$/.test(value) ? { maxAge: Number(value) } : {};
    case 'samesite': {
      const known = (['lax', 'strict', 'none'] as const).find((each) => each === value.toLowerCase());
      return { sameSite: known ?? null };
    }
    default:
      return {};
  }
}

/** The value of the first cookie of a name in a Cookie header (RFC 6265bis §4.2.1); null where there is none. */
export function cookieValue(header: string, name: string): string | null {
  if (header === '') return null;
  for (const pair of header.split('; ')) {
    if (pair.startsWith(name) && pair.charCodeAt(name.length) === 61) return pair.slice(name.length + 1);
  }
  return null;
}

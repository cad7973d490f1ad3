import type { Seconds } from '../time/duration.js';
import { parseCookieDate } from './cookie-date.js';

/**
 * What a cookie has to be for the start of its name (RFC 6265bis §4.1.3); null where that asks for nothing. All of them ask for
 * Secure; `host` for Path=/ and no Domain.
 */
export function prefixAsks(name: string): { readonly host: boolean; readonly httpOnly: boolean } | null {
  const start = /^__(host-http|host|http|secure)-/i.exec(name)?.[1]?.toLowerCase();
  if (start === undefined) return null;
  return { host: start.startsWith('host'), httpOnly: start.endsWith('http') };
}

/** What one Set-Cookie header says (RFC 6265bis §4.1), for the attributes that an app of the language can send. */
export interface SetCookie {
  readonly name: string;
  readonly value: string;
  readonly path: string | null;
  /** In lower case, without a dot before it; null: only the host that sets it. */
  readonly domain: string | null;
  readonly secure: boolean;
  readonly httpOnly: boolean;
  readonly sameSite: 'lax' | 'strict' | 'none' | null;
  readonly maxAge: Seconds | null;
  /** Seconds on the virtual clock; null where the header says none. */
  readonly expires: Seconds | null;
}

/** How an app sets a cookie of its own. */
export interface CookieRules {
  readonly name: string;
  /** The names of cookies that go with it, such as one with a signature: it counts only with all of them. */
  readonly others: readonly string[];
  readonly secure: boolean;
  readonly httpOnly: boolean;
  /** `unset`: the app says nothing of it. */
  readonly sameSite: 'lax' | 'strict' | 'none' | 'unset';
  /** The addresses that it is sent to: those at the path and below. */
  readonly path: string;
  /** The host to which, and below which, it is sent; null: only to the host that sets it. */
  readonly domain: string | null;
  /** null: until the browser closes. */
  readonly life: Seconds | null;
}

/** Writes a Set-Cookie header (RFC 6265bis §4.1.1). */
export function writeSetCookie(
  cookie: Omit<SetCookie, 'expires' | 'sameSite'> & { readonly sameSite: CookieRules['sameSite'] },
): string {
  let text = `${cookie.name}=${cookie.value}`;
  if (cookie.domain !== null) text += `; Domain=${cookie.domain}`;
  if (cookie.path !== null) text += `; Path=${cookie.path}`;
  if (cookie.maxAge !== null) text += `; Max-Age=${cookie.maxAge}`;
  if (cookie.secure) text += '; Secure';
  if (cookie.httpOnly) text += '; HttpOnly';
  if (cookie.sameSite !== 'unset') text += `; SameSite=${SAME_SITE[cookie.sameSite]}`;
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
  const { path, domain, secure, httpOnly, sameSite, maxAge, expires } = attributesOf(
    header.slice(attributesAt),
  );
  return { name, value, path, domain, secure, httpOnly, sameSite, maxAge, expires };
}

type Attributes = Omit<SetCookie, 'name' | 'value'>;

/** An app sends the same attributes with nearly every cookie: the last few are remembered as read. */
const remembered = new Map<string, Attributes>();

function attributesOf(text: string): Attributes {
  const known = remembered.get(text);
  if (known !== undefined) return known;
  const attributes = readAttributes(text);
  if (remembered.size >= 100) remembered.clear();
  remembered.set(text, attributes);
  return attributes;
}

/** The attributes, the last of each name (RFC 6265bis §5.6.1 Expires, §5.6.2 Max-Age, §5.6.3 Domain, §5.6.4 Path, §5.6.5 Secure, §5.6.6 HttpOnly, §5.6.7 SameSite). */
function readAttributes(text: string): Attributes {
  let attributes: Attributes = {
    path: null,
    domain: null,
    secure: false,
    httpOnly: false,
    sameSite: null,
    maxAge: null,
    expires: null,
  };
  for (const attribute of text.split(';')) {
    const equals = endOf(attribute, '=', 0);
    const name = attribute.slice(0, equals).trim().toLowerCase();
    attributes = { ...attributes, ...readAttribute(name, attribute.slice(equals + 1).trim()) };
  }
  return attributes;
}

function readAttribute(name: string, value: string): Partial<Attributes> {
  switch (name) {
    case 'secure':
      return { secure: true };
    case 'httponly':
      return { httpOnly: true };
    case 'path':
      return { path: value.startsWith('/') ? value : null };
    case 'domain': {
      // A dot before it is dropped, and an empty one says nothing.
      const domain = (value.startsWith('.') ? value.slice(1) : value).toLowerCase();
      return value === '' ? {} : { domain: domain === '' ? null : domain };
    }
    case 'expires': {
      const expires = parseCookieDate(value);
      return expires === null ? {} : { expires };
    }
    case 'max-age':
      return /^-?\d+$/.test(value) ? { maxAge: Number(value) } : {};
    case 'samesite':
      return {
        sameSite: (['lax', 'strict', 'none'] as const).find((known) => known === value.toLowerCase()) ?? null,
      };
    default:
      return {};
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

import type { Clock, Instant } from '../clock.js';
import { hostOf, type Address } from '../http/address.js';
import { readSetCookie, type SetCookie } from '../http/cookies.js';
import type { Seconds } from '../language/duration.js';

/** A cookie that a browser keeps (RFC 6265bis §5.7). It belongs to the one host that set it. */
export interface Cookie {
  readonly name: string;
  readonly value: string;
  readonly host: string;
  readonly path: string;
  readonly secure: boolean;
  readonly httpOnly: boolean;
  readonly sameSite: SetCookie['sameSite'];
  readonly storedAt: Instant;
  /** How long it lives from then on; null: until the browser closes. */
  readonly life: Seconds | null;
}

/** All cookies of one browser, the oldest first. */
export type CookieJar = readonly Cookie[];

/** A jar after a response, with the names of the cookies that the browser would not keep. */
export interface Stored {
  readonly jar: CookieJar;
  readonly refused: readonly string[];
}

/** Takes the Set-Cookie headers of a response from an address into a jar (RFC 6265bis §5.7). */
export function storeCookies(
  jar: CookieJar,
  headers: readonly string[],
  from: Address,
  clock: Clock,
): Stored {
  let cookies = jar;
  const refused: string[] = [];
  for (const header of headers) {
    const set = readSetCookie(header);
    if (set === null) continue;
    if (mayBeKept(set, from)) cookies = put(cookies, set, from, clock);
    else refused.push(set.name);
  }
  return { jar: cookies, refused };
}

function mayBeKept(set: SetCookie, from: Address): boolean {
  // §5.7 step 8: a secure cookie is kept only over a secure connection; browsers count loopback as one.
  if (set.secure && !isTrustworthy(from.origin)) return false;
  // §5.7 step 18: SameSite=None asks for Secure.
  if (set.sameSite === 'none' && !set.secure) return false;
  // §5.7 steps 20 and 21: the name prefixes are compared without regard to case.
  const name = set.name.toLowerCase();
  if (name.startsWith('__secure-') && !set.secure) return false;
  return !name.startsWith('__host-') || (set.secure && set.path === '/');
}

function put(jar: CookieJar, set: SetCookie, from: Address, clock: Clock): CookieJar {
  // Cookies do not tell ports apart (RFC 6265bis §8.5).
  const host = hostOf(from.origin);
  const path = set.path ?? defaultPath(from.path);
  const same = (cookie: Cookie) => cookie.name === set.name && cookie.host === host && cookie.path === path;
  // §5.6.2: a life of zero or less is over at once.
  if (set.maxAge !== null && set.maxAge <= 0) return jar.filter((cookie) => !same(cookie));
  const cookie: Cookie = {
    name: set.name,
    value: set.value,
    host,
    path,
    secure: set.secure,
    httpOnly: set.httpOnly,
    sameSite: set.sameSite,
    storedAt: clock.now,
    life: set.maxAge,
  };
  // §5.7 step 23: a cookie that replaces another keeps its place in the order of creation.
  return jar.some(same) ? jar.map((each) => (same(each) ? cookie : each)) : [...jar, cookie];
}

/** The Cookie header for a request to an address (RFC 6265bis §5.8); empty where no cookie fits. */
export function cookieHeader(jar: CookieJar, to: Address, clock: Clock): string {
  if (jar.length === 0) return '';
  const fitting = jar.filter((cookie) => isSent(cookie, to, clock));
  // §5.8 step 2: longer paths first; among equals the older first, which the jar's order is.
  if (fitting.length > 1) fitting.sort((a, b) => b.path.length - a.path.length);
  let header = '';
  for (const cookie of fitting) header += `${header === '' ? '' : '; '}${cookie.name}=${cookie.value}`;
  return header;
}

function isSent(cookie: Cookie, to: Address, clock: Clock): boolean {
  if (cookie.host !== hostOf(to.origin)) return false;
  if (cookie.life !== null && clock.elapsed(cookie.storedAt, cookie.life)) return false;
  if (cookie.secure && !isTrustworthy(to.origin)) return false;
  return pathMatches(to.path, cookie.path);
}

/** RFC 6265bis §5.1.4. */
function pathMatches(path: string, cookiePath: string): boolean {
  if (cookiePath === '/' || path === cookiePath) return true;
  return path.startsWith(cookiePath) && (cookiePath.endsWith('/') || path[cookiePath.length] === '/');
}

/** RFC 6265bis §5.1.4: the folder of the path. */
function defaultPath(path: string): string {
  const slash = path.lastIndexOf('/');
  return slash <= 0 ? '/' : path.slice(0, slash);
}

/** https://w3c.github.io/webappsec-secure-contexts/#is-origin-trustworthy, as far as schemes and loopback go. */
export function isTrustworthy(origin: string): boolean {
  if (origin.startsWith('https://')) return true;
  const host = hostOf(origin);
  return (
    host === 'localhost' ||
    host.endsWith('.localhost') ||
    host === '[::1]' ||
    /^127(?:\.\d{1,3}){3}$/.test(host)
  );
}

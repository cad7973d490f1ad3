import { BEGINNING, type Clock, type Instant } from '../time/clock.js';
import { hostOf, type Address } from '../http/address.js';
import { prefixAsks, readSetCookie, type SetCookie } from '../http/cookies.js';
import { isSafe, type Method } from '../http/messages.js';
import { isPublicSuffix } from '../http/site.js';
import type { Seconds } from '../time/duration.js';

/** A cookie that a browser keeps (RFC 6265bis §5.7). */
export interface Cookie {
  readonly name: string;
  readonly value: string;
  readonly host: string;
  /** Whether it belongs to the one host that set it, not to those below it as well. */
  readonly hostOnly: boolean;
  readonly path: string;
  readonly secure: boolean;
  readonly httpOnly: boolean;
  readonly sameSite: SetCookie['sameSite'];
  /** The instant from which its life counts. */
  readonly storedAt: Instant;
  /** The instant at which it was made, where it says nothing of other sites; else nobody asks. */
  readonly createdAt: Instant;
  /** How long it lives from then on; null: until the browser closes. */
  readonly life: Seconds | null;
  /** Whether somebody put it there who copied its value: they keep it, whatever a browser would drop. */
  readonly copied?: true;
}

/** All cookies of one browser, the oldest first. */
export type CookieJar = readonly Cookie[];

/** A jar after a response, the same where no cookie changed, with the names of the cookies that the browser would not keep. */
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
    if (mayBeKept(set, from, cookies, clock)) cookies = put(cookies, set, from, clock);
    else refused.push(set.name);
  }
  return { jar: cookies, refused };
}

function mayBeKept(set: SetCookie, from: Address, jar: CookieJar, clock: Clock): boolean {
  // Cookies do not tell ports apart (RFC 6265bis §8.5).
  const host = hostOf(from.origin);
  // A domain must be that of the host or one above it, and none below which strangers register.
  if (set.domain !== null && !domainMatches(host, set.domain)) return false;
  if (set.domain !== null && set.domain !== host && isPublicSuffix(set.domain)) return false;
  // A secure cookie is kept only over a secure connection; browsers count loopback as one.
  const trustworthy = isTrustworthy(from.origin);
  if (set.secure && !trustworthy) return false;
  // One that is not secure does not take the place of a secure one over an insecure connection.
  const shielded = (cookie: Cookie) => shields(cookie, set, from) && !isOver(cookie, clock);
  if (!set.secure && !trustworthy && jar.some(shielded)) return false;
  // SameSite=None asks for Secure.
  if (set.sameSite === 'none' && !set.secure) return false;
  // The name prefixes are compared without regard to case, in the value too where there is no name.
  const name = (set.name === '' ? set.value : set.name).toLowerCase();
  const asked = prefixAsks(name);
  if (asked === null) return true;
  if (set.name === '' || !set.secure) return false;
  if (asked.httpOnly && !set.httpOnly) return false;
  return !asked.host || (set.path === '/' && set.domain === null);
}

/** Whether a secure cookie keeps one of its name from being set insecurely. */
function shields(cookie: Cookie, set: SetCookie, from: Address): boolean {
  const host = set.domain ?? hostOf(from.origin);
  return (
    cookie.secure &&
    cookie.name === set.name &&
    (domainMatches(host, cookie.host) || domainMatches(cookie.host, host)) &&
    pathMatches(set.path ?? defaultPath(from.path), cookie.path)
  );
}

function put(jar: CookieJar, set: SetCookie, from: Address, clock: Clock): CookieJar {
  const host = set.domain ?? hostOf(from.origin);
  // A host below which strangers register gets its cookie for itself alone.
  const hostOnly = set.domain === null || isPublicSuffix(set.domain);
  const path = set.path ?? defaultPath(from.path);
  const same = (cookie: Cookie) =>
    cookie.name === set.name && cookie.host === host && cookie.hostOnly === hostOnly && cookie.path === path;
  const over =
    set.maxAge === null ? set.expires !== null && clock.elapsed(BEGINNING, set.expires) : set.maxAge <= 0;
  if (over) {
    return jar.some(same) ? jar.filter((cookie) => cookie.copied === true || !same(cookie)) : jar;
  }
  // Max-Age goes before Expires.
  const byDate = set.maxAge === null && set.expires !== null;
  const made: Cookie = {
    name: set.name,
    value: set.value,
    host,
    hostOnly,
    path,
    secure: set.secure,
    httpOnly: set.httpOnly,
    sameSite: set.sameSite,
    storedAt: byDate ? BEGINNING : clock.now,
    createdAt: set.sameSite === null ? clock.now : BEGINNING,
    life: set.maxAge ?? set.expires,
  };
  const replaced = jar.find(same);
  if (replaced === undefined) return [...jar, made];
  // The standard keeps the time of creation in any case; Chromium does where the value is the same, and so spares a new one.
  const cookie = replaced.value === made.value ? { ...made, createdAt: replaced.createdAt } : made;
  if (replaced.copied === true) return jar.map((each) => (each === replaced ? copyOf(cookie) : each));
  // A cookie that replaces another keeps its place in the order of creation; one past its end has been evicted.
  if (isOver(replaced, clock)) return [...jar.filter((each) => each !== replaced), cookie];
  return jar.map((each) => (each === replaced ? cookie : each));
}

/** A cookie as whoever copied its value keeps it: without end. */
export function copyOf(cookie: Cookie): Cookie {
  return { ...cookie, storedAt: BEGINNING, life: null, copied: true };
}

/** A copied cookie as a browser keeps it that takes it for its own. */
export function ownOf(cookie: Cookie): Cookie {
  const own = { ...cookie };
  delete own.copied;
  return own;
}

function isOver(cookie: Cookie, clock: Clock): boolean {
  return cookie.life !== null && clock.elapsed(cookie.storedAt, cookie.life);
}

/**
 * From this age on a cookie that says nothing of other sites is Lax; up to it, forms of other sites carry it too, since logins
 * that come back by one would break (RFC 6265bis §5.6.7.2, "Lax-Allowing-Unsafe": at most two minutes).
 */
export const NO_LONGER_SPARED: Seconds = 121;

/** How a request came about, as far as cookies ask. */
export interface Retrieval {
  readonly method: Method;
  /** Whether another site started it, or the chain of redirects that it belongs to. */
  readonly crossSite: boolean;
}

const OWN: Retrieval = { method: 'GET', crossSite: false };

/** The Cookie header for a request to an address (RFC 6265bis §5.8); empty where no cookie fits. */
export function cookieHeader(jar: CookieJar, to: Address, clock: Clock, how: Retrieval = OWN): string {
  if (jar.length === 0) return '';
  const fitting = jar.filter((cookie) => isSent(cookie, to, clock, how));
  // §5.8.3: longer paths first; among equals the older first, which the jar's order is.
  if (fitting.length > 1) fitting.sort((a, b) => b.path.length - a.path.length);
  let header = '';
  for (const cookie of fitting) header += `${header === '' ? '' : '; '}${cookie.name}=${cookie.value}`;
  return header;
}

function isSent(cookie: Cookie, to: Address, clock: Clock, how: Retrieval): boolean {
  const host = hostOf(to.origin);
  if (cookie.hostOnly ? cookie.host !== host : !domainMatches(host, cookie.host)) return false;
  if (isOver(cookie, clock)) return false;
  if (cookie.secure && !isTrustworthy(to.origin)) return false;
  if (how.crossSite && cookie.sameSite !== 'none') {
    // Lax goes along when a link of another site is followed, and only then.
    const isSpared = cookie.sameSite === null && !clock.elapsed(cookie.createdAt, NO_LONGER_SPARED);
    if (cookie.sameSite === 'strict' || !(isSafe(how.method) || isSpared)) return false;
  }
  return pathMatches(to.path, cookie.path);
}

/** RFC 6265bis §5.1.3; an address by numbers matches only itself. */
function domainMatches(host: string, domain: string): boolean {
  if (host === domain) return true;
  return host.endsWith(`.${domain}`) && !/^[\d.]+$|^\[/.test(host);
}

/** RFC 6265bis §5.1.4. */
export function pathMatches(path: string, cookiePath: string): boolean {
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

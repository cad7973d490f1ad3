import { encodedReference, parseUrl } from '../../http/address.js';
import { encodedPath, normalisePath } from '../../paths/normalise.js';
import { LONGEST_PATH, parsePattern, UNSEEN, UNSEEN_FAULT, type Pattern } from '../../paths/pattern.js';
import { problem, type Report } from './problems.js';
import { AUDIENCE_WORDS } from '../../vocabulary/audience.js';
import type { Place } from './source.js';
import type { Path, YamlText } from './yaml-text.js';

/** What every reader of a section needs: the text, to point into it, and somebody to tell. */
export interface Scope {
  readonly input: YamlText;
  readonly report: Report;
}

/** Words with a meaning of their own, which no role or account may take. */
const RESERVED = new Set<string>([...AUDIENCE_WORDS, 'guest', 'login', 'landing', 'none']);

/** Why a text cannot be the name of a role or an account; null where it can. */
export function nameFault(name: string): 'reserved' | 'unusable' | null {
  if (RESERVED.has(name)) return 'reserved';
  return /^\p{L}[\p{L}\p{N}._@-]{0,63}$/u.test(name) ? null : 'unusable';
}

/** Reports a name that cannot be used for a role or an account. */
export function checkName(name: string, what: string, place: Place, report: Report): void {
  const fault = nameFault(name);
  if (fault !== null) report(problem('bad-name', { name, what, reserved: fault === 'reserved' }, place));
}

/** The pattern that a page can have as its path; else what is wrong with it. */
export function patternOf(path: string): Pattern | string {
  return reservedFault(path) ?? parsePattern(path);
}

/** Reads a path pattern; a bad one is reported and matches nothing else. */
export function readPattern(
  path: string,
  at: Path,
  scope: Scope,
  standsAs: 'key' | 'value' = 'value',
): Pattern {
  const pattern = patternOf(path);
  if (typeof pattern !== 'string') return pattern;
  const place = standsAs === 'key' ? scope.input.placeOfKey(at.slice(0, -1), path) : scope.input.placeOf(at);
  scope.report(problem('bad-path', { path, problem: pattern }, place));
  return { text: path, segments: [{ kind: 'literal', text: path }], tail: false };
}

/** Reads an address inside the app: a path, perhaps with a query, that a redirect can lead to. It is kept as it is sent. */
export function readAddress(address: string, at: Path, scope: Scope): string {
  const fault = reservedFault(address) ?? addressFault(address);
  if (fault !== null) {
    scope.report(problem('bad-path', { path: address, problem: fault }, scope.input.placeOf(at)));
  }
  return encodedReference(address);
}

/** The cookie in which `cavrin serve` keeps why the last refusal came. */
export const STAND_IN_COOKIE = 'stand-in-refusal';

/** What `cavrin serve` answers itself, so that no page of the app can lie there. */
function reservedFault(path: string): string | null {
  if (/^\/-(?:[/?]|$)/.test(path)) return 'addresses below /-/ belong to the pages that steer the stand-in';
  return path === '/.well-known/jwks.json' ? 'the stand-in has its key set there' : null;
}

/** What keeps a text from being an address inside the app; null when nothing does. */
export function addressFault(address: string): string | null {
  if (!address.startsWith('/')) return 'it must start with a slash';
  if (address.length > LONGEST_PATH) return `it is longer than ${LONGEST_PATH} characters`;
  if (address.startsWith('//')) return 'two slashes at its start lead to another site';
  if (address.includes('#')) return 'a fragment is never sent to the app';
  if (/[\s\\]/.test(address)) return 'it holds a space or a backslash';
  if (UNSEEN.test(address)) return UNSEEN_FAULT;
  const [path = ''] = address.split('?', 1);
  return normalisePath(encodedPath(path)) === null ? 'it cannot be normalised safely' : null;
}

/** Reads an origin (RFC 6454 §4): scheme, host and, where it is not the usual one, port. */
export function readOrigin(origin: string, at: Path, scope: Scope): string {
  const fault = (problemText: string) => {
    scope.report(problem('bad-value', { problem: problemText }, scope.input.placeOf(at)));
    return origin;
  };
  const url = parseUrl(origin);
  if (url === null) return fault('an origin is written like https://harbour.example');
  if (url.protocol !== 'https:' && url.protocol !== 'http:') {
    return fault('an origin starts with https:// or http://');
  }
  const bare = url.pathname === '/' && url.search === '' && url.hash === '' && url.username === '';
  return bare ? url.origin : fault(`an origin has no path or user; write ${url.origin}`);
}

/** Reads the name of a host, in lower case. */
export function readHost(host: string, at: Path, scope: Scope): string {
  const lower = host.toLowerCase();
  if (!/^(?!-)[a-z0-9-]{1,63}(?:\.[a-z0-9-]{1,63})*$/.test(lower) || lower.length > 253) {
    const says = `${host} is no host name; write it without scheme, port or path`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return lower;
}

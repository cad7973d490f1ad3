import type * as z from 'zod';
import type { CookieRules } from '../http/cookies.js';
import type { Scope } from './text/name-reader.js';
import { readHost } from './text/name-reader.js';
import { problem } from './text/problems.js';
import { choice, flag, oneOrMore, text } from './text/schema-parts.js';
import type { Path } from './text/yaml-text.js';

/** The keys of a cookie of the app's own, wherever one stands. */
export const COOKIE = {
  name: oneOrMore(
    'the name of a cookie, or those of a value and its signature',
    text('the name of a cookie'),
  ).optional(),
  secure: flag.optional(),
  'http-only': flag.optional(),
  'same-site': choice(['lax', 'strict', 'none', 'unset']).optional(),
  path: text('a path such as /app').optional(),
  domain: text('a host such as harbour.example').optional(),
};

type CookieText = { readonly [Key in keyof typeof COOKIE]?: z.output<(typeof COOKIE)[Key]> };

/** Why a text can be no name of a cookie, which is a token (RFC 6265 §4.1.1, RFC 9110 §5.6.2); null where it can. */
export function cookieNameFault(name: string): string | null {
  return /^[!#$%&'*+\-.^_`|~0-9A-Za-z]{1,128}$/.test(name) ? null : `${name} is no usable name for a cookie`;
}

/** Reads how a cookie is set; careful where it says nothing. */
export function readCookie(
  written: CookieText,
  usual: string,
  at: Path,
  scope: Scope,
): Omit<CookieRules, 'life'> {
  const [name = usual, ...others] = written.name ?? [];
  const fault = (says: string) => {
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'name'])));
  };
  for (const each of [name, ...others]) {
    const wrong = cookieNameFault(each);
    if (wrong !== null) fault(wrong);
  }
  if (new Set([name, ...others]).size <= others.length) {
    fault('cookies that go together need names of their own');
  }
  if (others.length > 2) fault('more than three cookies for one thing are too many');
  return {
    name,
    others,
    secure: written.secure ?? true,
    httpOnly: written['http-only'] ?? true,
    sameSite: written['same-site'] ?? 'lax',
    path: readPath(written.path ?? '/', [...at, 'path'], scope),
    domain: written.domain === undefined ? null : readHost(written.domain, [...at, 'domain'], scope),
  };
}

/** Reads the path of a cookie: what a header can carry (RFC 6265 §4.1.1, path-value). */
function readPath(path: string, at: Path, scope: Scope): string {
  if (!/^\/[!-:<-~]{0,200}$/.test(path)) {
    const says = `${path} is no path for a cookie; write one like /app, in ASCII and without a semicolon`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return path;
}

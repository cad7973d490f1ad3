import type * as z from 'zod';
import { path, requestLine } from './access-schema.js';
import { roleNames } from '../audience/role-names.js';
import { readEndpoint } from './endpoint-reader.js';
import type { Impersonation } from './impersonation.js';
import { readPattern, type Scope } from './text/name-reader.js';
import type { Roles } from './roles-and-flags.js';
import { problem } from './text/problems.js';
import { choice, duration, oneOrMore, section } from './text/schema-parts.js';
import type { Path } from './text/yaml-text.js';

/** The section `impersonation`: who acts for whom. */
export const impersonation = section('impersonation', {
  start: requestLine,
  stop: requestLine,
  by: roleNames,
  of: roleNames,
  life: duration().optional(),
  not: oneOrMore('a path or a list of paths', path).optional(),
  kept: choice(['session', 'account']).optional(),
});

/** Reads who acts for whom. */
export function readImpersonation(
  text: z.output<typeof impersonation>,
  roles: Roles,
  scope: Scope,
): Impersonation {
  const at: Path = ['impersonation'];
  const named = (key: 'by' | 'of') =>
    text[key].map((role, index) => roles.resolve(role, [...at, key, index]));
  const bad = (key: string, says: string) => {
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, key])));
  };
  for (const key of ['start', 'stop'] as const) {
    const { method, target } = text[key];
    if (method === 'GET') bad(key, `a link on another site could do it; write POST ${target}`);
  }
  const pattern = readPattern(text.start.target, [...at, 'start'], scope);
  if (pattern.tail || pattern.segments.filter(({ kind }) => kind !== 'literal').length !== 1) {
    bad('start', 'the path names the account by one parameter, as in POST /office/as/:account');
  }
  return {
    at,
    start: { ...text.start, at: [...at, 'start'], path: text.start.target, pattern },
    stop: readEndpoint(text.stop, [...at, 'stop'], scope),
    by: named('by'),
    of: named('of'),
    life: text.life ?? null,
    not: (text.not ?? []).map((each, index) => readPattern(each, [...at, 'not', index], scope)),
    kept: text.kept ?? 'session',
  };
}

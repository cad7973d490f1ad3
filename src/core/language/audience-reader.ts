import { METHODS, type Method } from '../http/messages.js';
import { parameterNames, type Pattern } from '../paths/pattern.js';
import type { AudienceText, MethodAudiencesText, StatedText } from './access-schema.js';
import type { Scope } from './name-reader.js';
import type { Roles } from './people-reader.js';
import type { StatedAudience, StatedAudiences } from './policy.js';
import type { Audience, Facts, SomeVisitors } from '../vocabulary/audience.js';
import { problem } from './problems.js';
import { nearest } from './suggestions.js';
import type { Path } from './yaml-text.js';

/** Reads an audience that stands at a path, for addresses of the given patterns. */
export type ReadAudience = (text: AudienceText, at: Path, patterns: readonly Pattern[]) => Audience;

/** What a reader needs to resolve names. */
export interface Names {
  readonly roles: Roles;
  readonly audience: ReadAudience;
}

/** A reader of audiences over the given roles. */
export function audienceReader(roles: Roles, scope: Scope): ReadAudience {
  const resolveAll = (names: readonly string[] | undefined, at: Path) =>
    (names ?? []).map((name, index) => roles.resolve(name, [...at, index], WORDS));
  return (text, at, patterns) => {
    if (text === 'everyone' || text === 'guests' || text === 'signed-in') return { who: text };
    if (typeof text === 'string') return someone({ any: [roles.resolve(text, at, WORDS)] });
    if (Array.isArray(text)) return someone({ any: resolveAll(text, at) });
    if (text.account !== undefined) checkParameter(text.account, [...at, 'account'], patterns, scope);
    return someone({
      any: text.any === undefined ? null : resolveAll(text.any, [...at, 'any']),
      all: resolveAll(text.all, [...at, 'all']),
      none: resolveAll(text.none, [...at, 'none']),
      facts: readFacts(text.facts ?? {}),
      account: text.account ?? null,
      secondFactor: text['second-factor'] ?? false,
      loginWithin: text['login-within'] ?? null,
    });
  };
}

/** The audiences that are words rather than roles. */
const WORDS = ['everyone', 'guests', 'signed-in'];

const ANYBODY: SomeVisitors = {
  who: 'some',
  any: null,
  all: [],
  none: [],
  facts: new Map(),
  account: null,
  secondFactor: false,
  loginWithin: null,
};

/** The audience of signed-in visitors for whom the given conditions hold. */
export function someone(conditions: Partial<SomeVisitors>): SomeVisitors {
  return { ...ANYBODY, ...conditions };
}

export function readFacts(text: Readonly<Record<string, string>>): Facts {
  return new Map(Object.entries(text));
}

function checkParameter(name: string, at: Path, patterns: readonly Pattern[], scope: Scope): void {
  for (const pattern of patterns) {
    const known = parameterNames(pattern);
    if (known.includes(name)) continue;
    const near = nearest(name, known);
    scope.report(problem('unknown-parameter', { name, near, path: pattern.text }, scope.input.placeOf(at)));
  }
}

/** The audiences that a page or a rule states: `methods` goes before `read` and `write`, and these before `for`. */
export function readStated(
  text: StatedText,
  at: Path,
  patterns: readonly Pattern[],
  names: Names,
  byMethod: MethodAudiencesText = {},
): StatedAudiences {
  const stated = (audience: AudienceText, where: Path): StatedAudience => ({
    audience: names.audience(audience, where, patterns),
    at: where,
  });
  const own = (key: 'for' | 'read' | 'write') => {
    const audience = text[key];
    return audience === undefined ? null : stated(audience, [...at, key]);
  };
  const both = own('for');
  const methods = new Map<Method, StatedAudience>();
  for (const method of METHODS) {
    const audience = byMethod[method];
    if (audience !== undefined) methods.set(method, stated(audience, [...at, 'methods', method]));
  }
  return { read: own('read') ?? both, write: own('write') ?? both, methods };
}

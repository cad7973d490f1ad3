import { METHODS, type Method } from '../http/messages.js';
import { parameterNames, type Pattern } from '../paths/pattern.js';
import type { AudienceText, FactsText, MethodAudiencesText, StatedText } from './access-schema.js';
import type { Scope } from './text/name-reader.js';
import type { Flags, Roles } from './roles-and-flags.js';
import type { StatedAudience, StatedAudiences } from './policy.js';
import {
  ANYBODY,
  AUDIENCE_WORDS,
  isAudienceWord,
  type AskedFact,
  type AskedFacts,
  type Audience,
  type SomeVisitors,
} from '../vocabulary/audience.js';
import { problem } from './text/problems.js';
import { nearest } from './text/suggestions.js';
import type { Path } from './text/yaml-text.js';

/** Reads an audience that stands at a path, for addresses of the given patterns. */
export type ReadAudience = (text: AudienceText, at: Path, patterns: readonly Pattern[]) => Audience;

/** What a reader needs to resolve names. */
export interface Names {
  readonly roles: Roles;
  readonly audience: ReadAudience;
}

/** A reader of audiences over the given roles. */
export function audienceReader(roles: Roles, flags: Flags, scope: Scope): ReadAudience {
  const resolveAll = (names: readonly string[] | undefined, at: Path) =>
    (names ?? []).map((name, index) => roles.resolve(name, [...at, index], AUDIENCE_WORDS));
  return (text, at, patterns) => {
    if (isAudienceWord(text)) return { who: text };
    if (typeof text === 'string') return someone({ any: [roles.resolve(text, at, AUDIENCE_WORDS)] });
    if (Array.isArray(text)) return someone({ any: resolveAll(text, at) });
    if (text.account !== undefined) checkParameter(text.account, [...at, 'account'], patterns, scope);
    return someone({
      any: text.any === undefined ? null : resolveAll(text.any, [...at, 'any']),
      all: resolveAll(text.all, [...at, 'all']),
      none: resolveAll(text.none, [...at, 'none']),
      facts: readAskedFacts(text.facts ?? {}, [...at, 'facts'], patterns, scope),
      account: text.account ?? null,
      secondFactor: text['second-factor'] ?? false,
      loginWithin: text['login-within'] ?? null,
      flags: flags.resolve(text.flags ?? {}, [...at, 'flags']),
      joinedWithin: text['joined-within'] ?? null,
    });
  };
}

/** The audience of signed-in visitors for whom the given conditions hold. */
export function someone(conditions: Partial<SomeVisitors>): SomeVisitors {
  return { ...ANYBODY, ...conditions };
}

/**
 * Reads what a condition asks of facts. A value that begins with a colon is what a parameter of the path says.
 *
 * @param patterns the paths for which the condition stands; null where it stands for none
 */
export function readAskedFacts(
  text: FactsText,
  at: Path,
  patterns: readonly Pattern[] | null,
  scope: Scope,
): AskedFacts {
  return new Map(
    Object.entries(text).map(([fact, written]): [string, AskedFact] => {
      const named = written.flatMap((value) => (value.startsWith(':') ? [value.slice(1)] : []));
      for (const name of named) {
        if (patterns !== null) checkParameter(name, [...at, fact], patterns, scope);
        else scope.report(problem('no-parameter-here', { name }, scope.input.placeOf([...at, fact])));
      }
      return [fact, { values: written.filter((value) => !value.startsWith(':')), parameters: named }];
    }),
  );
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

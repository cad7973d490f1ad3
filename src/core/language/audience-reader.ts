import { METHODS, type Method } from '../http/messages.js';
import { type Pattern } from '../paths/pattern.js';
import type { AudienceText, MethodAudiencesText, StatedText } from './access-schema.js';
import type { Scope } from './text/name-reader.js';
import type { Flags, Roles } from './roles-and-flags.js';
import type { StatedAudience, StatedAudiences } from './policy.js';
import {
  ANYBODY,
  AUDIENCE_WORDS,
  isAudienceWord,
  type Audience,
  type SomeVisitors,
} from '../vocabulary/audience.js';
import type { Path } from './text/yaml-text.js';
import { readConditions } from '../audience/all-conditions.js';

/** Reads an audience that stands at a path, for addresses of the given patterns. */
export type ReadAudience = (text: AudienceText, at: Path, patterns: readonly Pattern[]) => Audience;

/** What a reader needs to resolve names. */
export interface Names {
  readonly roles: Roles;
  readonly audience: ReadAudience;
}

/** A reader of audiences over the given roles. */
export function audienceReader(roles: Roles, flags: Flags, scope: Scope): ReadAudience {
  const roleNames = (names: readonly string[], at: Path) =>
    names.map((name, index) => roles.resolve(name, [...at, index], AUDIENCE_WORDS));
  return (text, at, patterns) => {
    if (isAudienceWord(text)) return { who: text };
    if (typeof text === 'string') return someone({ any: [roles.resolve(text, at, AUDIENCE_WORDS)] });
    if (Array.isArray(text)) return someone({ any: roleNames(text, at) });
    const reading = {
      scope,
      patterns,
      roles: roleNames,
      flags: (stands: Readonly<Record<string, boolean>>, where: Path) => flags.resolve(stands, where),
    };
    return readConditions(text, at, reading);
  };
}

/** The audience of signed-in visitors for whom the given conditions hold. */
export function someone(conditions: Partial<SomeVisitors>): SomeVisitors {
  return { ...ANYBODY, ...conditions };
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

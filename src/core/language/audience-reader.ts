import { parameterNames, type Pattern } from '../paths/pattern.js';
import { readAddress, type Scope } from './name-reader.js';
import type { Roles } from './people-reader.js';
import type { AudienceText, PolicyText, RefusalText, StatedText } from './policy-schema.js';
import type { Audience, Refusal, Refusals, StatedAudiences } from './policy.js';
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
    (names ?? []).map((name, index) => roles.resolve(name, [...at, index]));
  return (text, at, patterns) => {
    if (text === 'everyone' || text === 'guests' || text === 'signed-in') return { who: text };
    if (typeof text === 'string') return someone({ any: [roles.resolve(text, at, WORDS)] });
    if (Array.isArray(text)) return someone({ any: resolveAll(text, at) });
    if (text.account !== undefined) checkParameter(text.account, [...at, 'account'], patterns, scope);
    return someone({
      any: text.any === undefined ? null : resolveAll(text.any, [...at, 'any']),
      all: resolveAll(text.all, [...at, 'all']),
      none: resolveAll(text.none, [...at, 'none']),
      account: text.account ?? null,
    });
  };
}

/** The audiences that are words rather than roles. */
const WORDS = ['everyone', 'guests', 'signed-in'];

function someone(conditions: Partial<Extract<Audience, { who: 'some' }>>): Audience {
  return { who: 'some', any: null, all: [], none: [], account: null, ...conditions };
}

function checkParameter(name: string, at: Path, patterns: readonly Pattern[], scope: Scope): void {
  for (const pattern of patterns) {
    const known = parameterNames(pattern);
    if (known.includes(name)) continue;
    const near = nearest(name, known);
    scope.report(problem('unknown-parameter', { name, near, path: pattern.text }, scope.input.placeOf(at)));
  }
}

/** The audiences that a page or a rule states: `read` and `write` go before `for`. */
export function readStated(
  text: StatedText,
  at: Path,
  patterns: readonly Pattern[],
  names: Names,
): StatedAudiences {
  const own = (key: 'for' | 'read' | 'write') => {
    const stated = text[key];
    return stated === undefined
      ? null
      : { audience: names.audience(stated, [...at, key], patterns), at: [...at, key] };
  };
  const both = own('for');
  return { read: own('read') ?? both, write: own('write') ?? both };
}

const DEFAULT_PAGE: RefusalsText = { guest: 'login', 'guests-only': 'landing', role: 403, unknown: 404 };
const DEFAULT_API: RefusalsText = { guest: 401, 'guests-only': 403, role: 403, unknown: 404 };
type RefusalsText = Record<'guest' | 'guests-only' | 'role' | 'unknown', RefusalText>;

/** Reads the refusals; an api differs from a page where it says so, and by its careful defaults. */
export function readRefusals(text: NonNullable<PolicyText['refusals']>, scope: Scope): Policy['refusals'] {
  const read = (part: Partial<RefusalsTextOrNothing>, defaults: RefusalsText, at: Path): Refusals => {
    const one = (key: keyof RefusalsText) => readRefusal(part[key] ?? defaults[key], [...at, key], scope);
    return {
      guest: one('guest'),
      guestsOnly: one('guests-only'),
      role: one('role'),
      unknown: one('unknown'),
    };
  };
  return {
    page: read(text, DEFAULT_PAGE, ['refusals']),
    api: read(text.api ?? {}, DEFAULT_API, ['refusals', 'api']),
  };
}
type RefusalsTextOrNothing = { [Key in keyof RefusalsText]: RefusalText | undefined };
type Policy = { refusals: { page: Refusals; api: Refusals } };

function readRefusal(text: RefusalText, at: Path, scope: Scope): Refusal {
  if (text === 'login' || text === 'landing') return { to: text };
  if (text === 401 || text === 403 || text === 404) return { to: 'status', status: text };
  if (typeof text === 'string' && text.startsWith('/')) {
    return { to: 'path', path: readAddress(text, at, scope) };
  }
  const place = scope.input.placeOf(at);
  scope.report(
    problem(
      'bad-value',
      { problem: `${text} is no refusal: use login, landing, 401, 403, 404 or a path` },
      place,
    ),
  );
  return { to: 'status', status: 403 };
}

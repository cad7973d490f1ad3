import type { Scope } from './text/name-reader.js';
import type { PolicyText } from './policy-schema.js';
import { readCookie } from './cookie-reader.js';
import type { Csrf, Remember, Routing } from './policy.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

type Section<Key extends keyof PolicyText> = NonNullable<PolicyText[Key]>;

/** Reads how visitors are known again; careful where it says nothing. */
export function readRemember(text: Section<'remember'>, scope: Scope): Remember {
  const at: Path = ['remember'];
  const cookie = readCookie(text.cookie ?? {}, 'remember', [...at, 'cookie'], scope);
  const counts = text['counts-as'] ?? {};
  const countsAs = { code: counts.code ?? 'asked', fresh: counts.fresh ?? false } as const;
  return {
    at,
    life: text.life,
    rotates: text.rotates ?? true,
    reuse: text.reuse ?? 'end-series',
    countsAs,
    cookie,
  };
}

/** Reads how forms are told from those of other sites; null where nothing is said. */
export function readCsrf(text: Section<'csrf'>, scope: Scope): Csrf {
  const at: Path = ['csrf'];
  if (text.before !== undefined && text.after !== undefined) {
    const says = 'a form is asked for its token before the guard or after it; keep one of the two';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'after'])));
  }
  return {
    at,
    token: text.token ?? 'absent',
    field: text.field ?? '_csrf',
    refused: text.refused ?? 403,
    order: text.after === undefined ? 'before-guard' : 'after-guard',
    checksOrigin: (text.origin ?? (text.token === undefined ? 'checked' : 'ignored')) === 'checked',
  };
}

/** Reads how the app reads paths. */
export function readRouting(text: Section<'routing'>): Routing {
  return {
    at: ['routing'],
    letterCase: text['letter-case'] ?? 'same',
    decodes: text.decodes ?? true,
    trailingSlash: text['trailing-slash'] ?? 'same',
    encodedSlash: text['encoded-slash'] ?? 'refused',
    emptySegments: text['empty-segments'] ?? 'dropped',
    expressions: text.expressions ?? 'as-routed',
  };
}

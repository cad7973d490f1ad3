import type { Scope } from './name-reader.js';
import type { PolicyText } from './policy-schema.js';
import type { Csrf, Remember, Routing, SessionRules } from './policy.js';
import type { CookieRules } from '../http/cookies.js';
import { problem } from './problems.js';
import type { Path } from './yaml-text.js';

type Section<Key extends keyof PolicyText> = NonNullable<PolicyText[Key]>;

/** Reads what becomes of a session; what is left out is careful, and a limit that is left out does not exist. */
export function readSession(
  text: Section<'session'>,
  { csrf, login }: Pick<PolicyText, 'csrf' | 'login'>,
  scope: Scope,
): SessionRules {
  const { life } = text.cookie ?? {};
  const renewed = text.cookie?.renewed ?? true;
  if (!renewed && text.kept === 'sealed') {
    const says = 'what is sealed in the cookie is renewed with it or not at all; write renews: never';
    scope.report(
      problem('bad-value', { problem: says }, scope.input.placeOf(['session', 'cookie', 'renewed'])),
    );
  }
  // A form's token, or an address to come back to, that is kept in the session needs one.
  const hasToken = csrf !== undefined && csrf.token !== undefined && csrf.token !== 'absent';
  const usual = hasToken || login?.return?.kept === 'session' ? 'with-a-form' : 'at-login';
  return {
    at: ['session'],
    starts: text.starts ?? usual,
    kept: text.kept ?? 'store',
    roles: text.roles ?? 'each-request',
    idle: text.idle ?? null,
    absolute: text.absolute ?? null,
    renews: text.renews ?? 'each-request',
    atOnce: text['at-once'] ?? 'any',
    cookie: {
      ...readCookie(text.cookie ?? {}, 'session', ['session', 'cookie'], scope),
      life: life === undefined || life === 'browser' ? null : life,
      renewed,
    },
  };
}

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

type CookieText = Omit<NonNullable<Section<'session'>['cookie']>, 'life' | 'renewed'>;

function readCookie(text: CookieText, usual: string, at: Path, scope: Scope): Omit<CookieRules, 'life'> {
  const [name = usual, ...others] = text.name ?? [];
  const fault = (says: string) => {
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'name'])));
  };
  for (const each of [name, ...others]) {
    // A cookie's name is a token (RFC 6265 §4.1.1, RFC 9110 §5.6.2).
    if (!/^[!#$%&'*+\-.^_`|~0-9A-Za-z]{1,128}$/.test(each)) fault(`${each} is no usable name for a cookie`);
  }
  if (new Set([name, ...others]).size <= others.length) {
    fault('cookies that go together need names of their own');
  }
  if (others.length > 2) fault('more than three cookies for one thing are too many');
  return {
    name,
    others,
    secure: text.secure ?? true,
    httpOnly: text['http-only'] ?? true,
    sameSite: text['same-site'] ?? 'lax',
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

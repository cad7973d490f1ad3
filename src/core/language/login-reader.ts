import { readAddress, readPattern, type Scope } from './name-reader.js';
import type { PolicyText } from './policy-schema.js';
import type { Credential, Endpoint, Login, Logout, SessionRules, TokenRules } from './policy.js';
import { problem } from './problems.js';
import type { Path } from './yaml-text.js';

type Section<Key extends keyof PolicyText> = NonNullable<PolicyText[Key]>;
type RequestText = Section<'login'>['submit'];

function readEndpoint(request: RequestText, at: Path, scope: Scope): Endpoint {
  return { at, method: request.method, path: readAddress(request.target, at, scope) };
}

/** Reads how people log in. */
export function readLogin(text: Section<'login'>, scope: Scope): Login {
  const at: Path = ['login'];
  const page = readAddress(text.page, [...at, 'page'], scope);
  return {
    at,
    page,
    submit: readEndpoint(text.submit, [...at, 'submit'], scope),
    wrong: text.wrong === undefined ? page : readAddress(text.wrong, [...at, 'wrong'], scope),
    by: text.by ?? 'session',
    return: text.return === undefined ? null : readReturn(text.return, scope),
  };
}

function readReturn(
  text: NonNullable<Section<'login'>['return']>,
  scope: Scope,
): NonNullable<Login['return']> {
  const at: Path = ['login', 'return'];
  const accept = text.accept ?? 'same-origin';
  const listed = (paths: readonly string[]) => ({
    listed: paths.map((path, index) => readPattern(path, [...at, 'accept', 'listed', index], scope)),
  });
  return {
    at,
    param: text.param ?? 'back',
    accept: typeof accept === 'string' ? accept : listed(accept.listed),
    onlyIfAllowed: text['only-if-allowed'] ?? true,
  };
}

/** What a login hands out, by what the policy says of it. */
export function handedOut(by: Login['by']): Credential[] {
  return [
    ...(by === 'tokens' ? [] : ['session' as const]),
    ...(by === 'session' ? [] : (['access', 'refresh'] as const)),
  ];
}

/** Reads how people log out. Left out, all that the login handed out is cleared and ended. */
export function readLogout(text: Section<'logout'>, by: Login['by'], scope: Scope): Logout {
  const at: Path = ['logout'];
  const handed = handedOut(by);
  return {
    at,
    submits: text.submit.map((request) => readEndpoint(request, [...at, 'submit'], scope)),
    lands: readAddress(text.lands ?? '/', [...at, 'lands'], scope),
    clears: new Set(text.clears ?? handed),
    ends: new Set(text.ends ?? handed.filter((credential) => credential !== 'access')),
  };
}

/** Reads what becomes of a session; what is left out is careful, and a limit that is left out does not exist. */
export function readSession(text: Section<'session'>, scope: Scope): SessionRules {
  const cookie = text.cookie ?? {};
  const name = cookie.name ?? 'session';
  // A cookie's name is a token (RFC 6265 §4.1.1, RFC 9110 §5.6.2).
  if (!/^[!#$%&'*+\-.^_`|~0-9A-Za-z]{1,128}$/.test(name)) {
    const place = scope.input.placeOf(['session', 'cookie', 'name']);
    scope.report(problem('bad-value', { problem: `${name} is no usable name for a cookie` }, place));
  }
  return {
    at: ['session'],
    idle: text.idle ?? null,
    absolute: text.absolute ?? null,
    renews: text.renews ?? 'each-request',
    cookie: {
      name,
      secure: cookie.secure ?? true,
      httpOnly: cookie['http-only'] ?? true,
      sameSite: cookie['same-site'] ?? 'lax',
      life: cookie.life === undefined || cookie.life === 'browser' ? null : cookie.life,
    },
  };
}

/** Reads the tokens' lives and what the browser does with them. */
export function readTokens(text: Section<'tokens'>, scope: Scope): TokenRules {
  const at: Path = ['tokens'];
  const when = text['refresh-when'] ?? 'refused';
  const failed = text['failed-refresh'] ?? 'login';
  if (typeof when === 'number' && when >= text.access.life) {
    const says = 'it refreshes before the access token is used at all; choose less than access.life';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'refresh-when'])));
  }
  return {
    at,
    access: { life: text.access.life, leeway: text.access.leeway ?? 0 },
    refresh:
      text.refresh === undefined ? null : { life: text.refresh.life, rotates: text.refresh.rotates ?? true },
    submit: readEndpoint(text.submit ?? { method: 'POST', target: '/oauth/token' }, [...at, 'submit'], scope),
    refreshWhen: when,
    failedRefresh: failed === 'login' ? 'login' : readAddress(failed, [...at, 'failed-refresh'], scope),
  };
}

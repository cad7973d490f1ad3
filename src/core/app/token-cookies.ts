import { cookieValue, writeSetCookie } from '../http/cookies.js';
import type { HttpRequest } from '../http/messages.js';
import type { TokenRules } from '../language/policy.js';

/** The cookies that hold tokens where script is not to see them. */
export const TOKEN_COOKIES = { access: 'access_token', refresh: 'refresh_token' } as const;
type Kind = keyof typeof TOKEN_COOKIES;

/** The Set-Cookie headers that hand tokens out, where they are kept in cookies. */
export function tokenCookies(rules: TokenRules, access: string, refresh: string | null): string[] {
  if (rules.kept !== 'cookie') return [];
  const life = rules.access.life + rules.access.leeway;
  return [
    cookie('access', access, life),
    ...(refresh === null ? [] : [cookie('refresh', refresh, rules.refresh?.life ?? life)]),
  ];
}

/** The Set-Cookie headers that make a browser drop its tokens, where they are kept in cookies. */
export function clearedTokenCookies(rules: TokenRules | null, kinds: readonly Kind[]): string[] {
  return rules?.kept === 'cookie' ? kinds.map((kind) => cookie(kind, '', 0)) : [];
}

/** The token that came in a cookie; empty where none did or none is kept so. */
export function tokenInCookie(rules: TokenRules | null, request: HttpRequest, kind: Kind): string {
  return rules?.kept === 'cookie' ? (cookieValue(request.cookie, TOKEN_COOKIES[kind]) ?? '') : '';
}

/** Careful throughout: over https only, out of reach of script, and not for requests of other sites. */
function cookie(kind: Kind, value: string, maxAge: number): string {
  const name = TOKEN_COOKIES[kind];
  const careful = { secure: true, httpOnly: true, sameSite: 'strict' } as const;
  return writeSetCookie({ name, value, path: '/', domain: null, ...careful, maxAge });
}

import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';
import { resolveAddress, withParameter } from '../http/address.js';
import { cookieValue } from '../http/cookies.js';
import { respond, type HttpRequest } from '../http/messages.js';
import type { Logout } from '../language/policy.js';
import { normalisePath } from '../paths/normalise.js';
import { redirect, type Answer } from './answer.js';
import { indexOf, NO_LOGIN, type App, type AppState } from './app.js';
import { bearerIndex, type Identity } from './identify.js';
import { firstEntry } from './landing.js';
import { endHandedOut, type Owned } from './login-ends.js';
import { clearedIn, shownIn } from './own-cookies.js';
import { clearedTokenCookies, tokenInCookie } from './token-cookies.js';
import { shownSession } from './way-in.js';

/** The logout endpoint. Somebody who is signed out already is answered alike. */
export function logout(
  app: App,
  state: AppState,
  request: HttpRequest,
  isApi: boolean,
  visitor: Identity,
): Answer {
  const rules = app.policy.logout;
  if (rules === null) throw new Error('a logout endpoint without logout rules');
  const shown = shownBy(app, state, request, visitor);
  // A session that is over leads nowhere: an app has forgotten whose it was.
  const over = state.sessions[shownSession(app, request)];
  const account = visitor.actedBy ?? visitor.account ?? shown[0]?.account ?? over?.account ?? null;
  const logins = loginsOf(shown);
  const isMeant: Record<Logout['of'], (each: Owned) => boolean> = {
    shown: () => false,
    login: ({ login }) => logins.has(login),
    account: (each) => logins.has(each.login) || (account !== null && each.account === account),
  };
  const isEnded = (each: Owned) => each === over || shown.includes(each) || isMeant[rules.of](each);
  const after = endHandedOut(app, state, rules.ends, 'signed-out', isEnded);
  const { remember, session: kept } = app.policy;
  const hasCookie = cookieValue(request.cookie, kept.cookie.name) !== null;
  const setCookie =
    (hasCookie || visitor.session >= 0) && rules.clears.has('session') ? clearedIn(kept.cookie) : [];
  const remembered = remember !== null && cookieValue(request.cookie, remember.cookie.name) !== null;
  if (remembered && rules.clears.has('remember')) setCookie.push(...clearedIn(remember.cookie));
  // As with the session, what did not come along is not taken away: another site may have sent the form.
  const tokens = (['access', 'refresh'] as const).filter(
    (kind) => rules.clears.has(kind) && tokenInCookie(app.policy.tokens, request, kind) !== '',
  );
  setCookie.push(...clearedTokenCookies(app.policy.tokens, tokens));
  const lands = firstEntry(rules.lands, visitor, pageLeft(app, request));
  return {
    state: after,
    // Script knows by itself where to go.
    response: isApi
      ? respond(rules.status, { setCookie })
      : redirect(request.method, landingAfter(app, lands?.to ?? '/'), setCookie),
    explanation: { seenAs: null, reason: 'served', decidedBy: lands?.at ?? rules.at },
  };
}

/** The logins that what a request shows goes back to, as far as the app still knows them. */
export function loginsShown(
  app: App,
  state: AppState,
  request: HttpRequest,
  visitor: Identity,
): ReadonlySet<number> {
  return loginsOf(shownBy(app, state, request, visitor));
}

function loginsOf(records: readonly Owned[]): ReadonlySet<number> {
  return new Set(records.flatMap(({ login }) => (login === NO_LOGIN ? [] : [login])));
}

/** The records of what a request shows: its session, the login of its tokens, and the series of its remember cookie. */
function shownBy(app: App, state: AppState, request: HttpRequest, visitor: Identity): Owned[] {
  const { tokens, remember } = app.policy;
  const session = state.sessions[visitor.session];
  const access = tokenInCookie(tokens, request, 'access');
  const refresh = request.form.get('refresh_token') ?? tokenInCookie(tokens, request, 'refresh');
  const token =
    state.refreshTokens[indexOf('refresh', refresh)] ??
    state.accessTokens[access === '' ? bearerIndex(request.authorization) : indexOf('access', access)];
  const family = state.families[token?.family ?? session?.family ?? -1];
  const cookie = remember === null ? null : shownIn(request.cookie, remember.cookie);
  const known = state.remembered[indexOf('remember', cookie ?? '')];
  const series = state.remembered.filter(({ login, ended }) => login === known?.login && !ended);
  return [session, family, ...series].filter((each) => each !== undefined);
}

/** The path of the page that the logout was asked for on (RFC 9110 §10.1.3); null where the browser does not say. */
function pageLeft(app: App, request: HttpRequest): string | null {
  if (request.referer === '') return null;
  const left = resolveAddress(request.referer, { origin: app.policy.origin, path: '/', query: '' });
  return left === null ? null : normalisePath(left.path);
}

/** Where a logout leads: by way of the provider where people are logged out there too (OpenID Connect RP-Initiated Logout §2). */
function landingAfter({ policy }: App, lands: string): string {
  const provider = policy.providers.find(({ logout: how }) => how === 'provider-too');
  if (provider === undefined) return lands;
  const end = `${provider.issuer}${PROVIDER_PATHS.endSession}`;
  return withParameter(end, 'post_logout_redirect_uri', `${policy.origin}${lands}`);
}

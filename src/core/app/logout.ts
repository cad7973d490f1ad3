import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';
import { resolveAddress, withParameter } from '../http/address.js';
import { cookieValue } from '../http/cookies.js';
import { respond, type HttpRequest } from '../http/messages.js';
import { normalisePath } from '../paths/normalise.js';
import { redirect, type Answer } from './answer.js';
import { indexOf, type App, type AppState } from './app.js';
import type { Identity } from './identify.js';
import { firstEntry } from './landing.js';
import { clearedIn } from './own-cookies.js';
import { forget } from './remember.js';
import { endSession } from './sessions.js';
import { clearedTokenCookies, tokenInCookie } from './token-cookies.js';
import { endFamily } from './tokens.js';
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
  // A visitor who was known again in this very request has a session that the browser does not know yet.
  const session = visitor.session >= 0 ? visitor.session : shownSession(app, request);
  const record = state.sessions[session];
  const token =
    state.refreshTokens[
      indexOf(
        'refresh',
        request.form.get('refresh_token') ?? tokenInCookie(app.policy.tokens, request, 'refresh'),
      )
    ];
  const family = token?.family ?? record?.family ?? -1;
  const account =
    visitor.actedBy ?? visitor.account ?? record?.account ?? state.families[family]?.account ?? null;

  const everything = rules.everywhere && account !== null;
  const sessions = everything ? indexesOf(state.sessions, account) : [session];
  const families = everything ? indexesOf(state.families, account) : [family];
  let after = state;
  if (rules.ends.has('session')) {
    for (const each of sessions) after = endSession(app, after, each, 'signed-out');
  }
  if (rules.ends.has('refresh') || rules.ends.has('access')) {
    for (const each of families) after = endFamily(after, each, 'signed-out');
  }
  if (rules.ends.has('remember')) after = forget(app, after, request, everything ? account : null);
  const { remember, session: kept } = app.policy;
  const shown = cookieValue(request.cookie, kept.cookie.name) !== null;
  const setCookie =
    (shown || visitor.session >= 0) && rules.clears.has('session') ? clearedIn(kept.cookie) : [];
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

function indexesOf(records: readonly { readonly account: string | null }[], account: string): number[] {
  return records.flatMap((record, index) => (record.account === account ? [index] : []));
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

import type { Clock } from '../time/clock.js';
import { respond, type Body, type HttpRequest } from '../http/messages.js';
import type { TokenRules } from '../language/policy.js';
import {
  changed,
  handle,
  indexOf,
  type AccessToken,
  type App,
  type AppState,
  type RefreshToken,
  type TokenFamily,
} from './app.js';
import { explain, type Answer } from './answer.js';
import { isCalledBack } from './called-back.js';
import { pickedRoles } from './identify.js';
import type { Reason } from './reasons.js';
import type { Grounds } from './router.js';
import { clearedTokenCookies, tokenCookies, tokenInCookie } from './token-cookies.js';

type TokenBody = Extract<Body, { kind: 'tokens' }>;

/** New tokens: the state that knows them, and what the response carries of them. */
interface Issued {
  readonly state: AppState;
  readonly body: TokenBody;
  /** Hands the tokens out where they are kept in cookies; the body is without them then. */
  readonly setCookie: readonly string[];
}

/** Hands out the tokens of a new login; `next` is where the page's script goes on to. The family is the state's last. */
export function startFamily(
  app: App,
  state: AppState,
  rules: TokenRules,
  of: Pick<TokenFamily, 'account' | 'login' | 'asRole' | 'secondFactor'>,
  next: string,
  clock: Clock,
): Issued {
  const family: TokenFamily = {
    account: of.account,
    login: of.login,
    startedAt: clock.now,
    ended: null,
    asRole: of.asRole,
    secondFactor: of.secondFactor,
  };
  return issue(
    app,
    changed(state, { families: [...state.families, family] }),
    rules,
    state.families.length,
    next,
    clock,
  );
}

/** Issues an access token, and a refresh token at the login and at each rotation. */
function issue(
  app: App,
  state: AppState,
  rules: TokenRules,
  family: number,
  next: string | null,
  clock: Clock,
): Issued {
  const { account = '', asRole = null, secondFactor = false } = state.families[family] ?? {};
  const roles = pickedRoles(app, asRole, state.accounts.get(account)?.roles ?? NO_ROLES);
  const access: AccessToken = { family, roles, issuedAt: clock.now, renewed: next === null };
  const withRefresh = rules.refresh !== null && (next !== null || rules.refresh.rotates);
  const refreshToken: RefreshToken = { family, issuedAt: clock.now, replaced: null };
  const handed = handedOut(
    rules,
    handle('access', state.accessTokens.length),
    withRefresh ? handle('refresh', state.refreshTokens.length) : null,
    { account, roles, secondFactor },
    next,
  );
  return {
    state: changed(state, {
      accessTokens: [...state.accessTokens, access],
      refreshTokens: withRefresh ? [...state.refreshTokens, refreshToken] : state.refreshTokens,
    }),
    ...handed,
  };
}

/** Tokens on their way to a browser: in the body for script, or in cookies. */
function handedOut(
  rules: TokenRules,
  accessToken: string,
  refreshToken: string | null,
  claims: TokenBody['claims'],
  next: string | null,
): Pick<Issued, 'body' | 'setCookie'> {
  const inCookies = rules.kept === 'cookie';
  return {
    body: {
      kind: 'tokens',
      accessToken: inCookies ? '' : accessToken,
      expiresIn: rules.access.life,
      refreshToken: inCookies ? null : refreshToken,
      claims,
      next,
    },
    setCookie: inCookies ? tokenCookies(rules, accessToken, refreshToken) : NO_COOKIES,
  };
}

const NO_COOKIES: readonly string[] = [];
const NO_ROLES: ReadonlySet<string> = new Set();

/**
 * Stops honouring the tokens of one login.
 *
 * @param isFinal whether the reason goes before another for which they had ended
 */
export function endFamily(state: AppState, family: number, reason: Reason, isFinal = false): AppState {
  const record = state.families[family];
  if (record === undefined || (record.ended !== null && !isFinal)) return state;
  return changed(state, { families: state.families.with(family, { ...record, ended: reason }) });
}

/** The token endpoint: a refresh token for a new access token (RFC 6749 §6), and a new refresh token where it rotates. */
export function refresh(
  app: App,
  state: AppState,
  request: HttpRequest,
  grounds: Grounds,
  clock: Clock,
): Answer {
  const rules = app.policy.tokens;
  const inCookie = tokenInCookie(rules, request, 'refresh');
  const shown = request.form.get('refresh_token') ?? (inCookie === '' ? undefined : inCookie);
  const grant = request.form.get('grant_type');
  const refused = (
    error: Extract<Body, { kind: 'token-error' }>['error'],
    reason: Reason,
    after = state,
  ): Answer => ({
    state: after,
    response: respond(error === 'invalid_grant' ? (rules?.refused ?? 400) : 400, {
      body: { kind: 'token-error', error },
      // A request that came without them, as one of another site does, takes none away.
      setCookie: inCookie === '' ? NO_COOKIES : clearedTokenCookies(rules, ['access', 'refresh']),
    }),
    explanation: explain(null, reason, grounds.at),
  });
  if (grant !== undefined && grant !== 'refresh_token') return refused('unsupported_grant_type', 'guest');
  if (grant === undefined || shown === undefined || !rules?.refresh) {
    return refused('invalid_request', 'guest');
  }
  // RFC 6749 §6: no more than was granted, and here no scope is.
  if ((request.form.get('scope') ?? '') !== '') return refused('invalid_scope', 'guest');

  const index = indexOf('refresh', shown);
  const token = state.refreshTokens[index];
  const family = token && state.families[token.family];
  if (token === undefined || family === undefined) return refused('invalid_grant', 'refresh-revoked');
  const account = state.accounts.get(family.account);
  if (account === undefined) return refused('invalid_grant', 'account-gone');
  if (account.state !== 'active') return refused('invalid_grant', account.state);
  if (family.ended !== null) return refused('invalid_grant', 'refresh-revoked');
  const { longest, life, rotates, reuse, grace } = rules.refresh;
  if (longest !== null && clock.elapsed(family.startedAt, longest)) {
    return refused('invalid_grant', 'refresh-expired');
  }
  if (token.replaced !== null && !clock.elapsed(token.replaced.at, grace)) {
    return repeated(state, rules, token.replaced, family, grounds);
  }
  // RFC 9700 §4.14.2: a token that was already exchanged means that two hold it; the whole family ends.
  if (token.replaced !== null && reuse !== 'accept') {
    const after = reuse === 'end-family' ? endFamily(state, token.family, 'refresh-reused') : state;
    return refused('invalid_grant', 'refresh-reused', after);
  }
  const countsFrom = rotates ? token.issuedAt : family.startedAt;
  if (clock.elapsed(countsFrom, life)) return refused('invalid_grant', 'refresh-expired');

  const issued = issue(app, state, rules, token.family, null, clock);
  const replaced = {
    at: clock.now,
    access: state.accessTokens.length,
    refresh: state.refreshTokens.length,
  };
  const refreshTokens = rotates
    ? issued.state.refreshTokens.with(index, { ...token, replaced })
    : issued.state.refreshTokens;
  return {
    state: changed(issued.state, { refreshTokens }),
    response: respond(200, { body: issued.body, setCookie: issued.setCookie }),
    explanation: explain(family.account, 'served', grounds.at),
  };
}

/** The answer that a token got once already, for requests that crossed on the way. */
function repeated(
  state: AppState,
  rules: TokenRules,
  replaced: NonNullable<RefreshToken['replaced']>,
  family: TokenFamily,
  grounds: Grounds,
): Answer {
  const { account, secondFactor } = family;
  const claims = { account, roles: state.accessTokens[replaced.access]?.roles ?? NO_ROLES, secondFactor };
  const access = handle('access', replaced.access);
  const handed = handedOut(rules, access, handle('refresh', replaced.refresh), claims, null);
  return {
    state,
    response: respond(200, handed),
    explanation: explain(account, 'served', grounds.at),
  };
}

/**
 * The revocation endpoint (RFC 7009 §2.1): ends all tokens of the login that the one shown goes back to. One that is not
 * known is no error (§2.2); an access token that the app cannot call back is of a type that is not revoked (§2.2.1).
 */
export function revoke(app: App, state: AppState, request: HttpRequest, grounds: Grounds): Answer {
  const shown = request.form.get('token');
  const refused = (error: Extract<Body, { kind: 'token-error' }>['error']): Answer => ({
    state,
    response: respond(400, { body: { kind: 'token-error', error } }),
    explanation: explain(null, 'guest', grounds.at),
  });
  if (shown === undefined) return refused('invalid_request');
  const isAccess = state.accessTokens[indexOf('access', shown)] !== undefined;
  if (isAccess && !isCalledBack(app.policy, { ended: 'refresh-revoked' })) {
    return refused('unsupported_token_type');
  }
  const token =
    state.refreshTokens[indexOf('refresh', shown)] ?? state.accessTokens[indexOf('access', shown)];
  return {
    state: token === undefined ? state : endFamily(state, token.family, 'refresh-revoked'),
    response: respond(200),
    explanation: explain(null, 'served', grounds.at),
  };
}

import type { Clock } from '../clock.js';
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
import { pickedRoles } from './identify.js';
import type { Reason } from './reasons.js';
import type { Grounds } from './router.js';

type TokenBody = Extract<Body, { kind: 'tokens' }>;

/** New tokens: the state that knows them, and what the response carries of them. */
interface Issued {
  readonly state: AppState;
  readonly body: TokenBody;
}

/** Hands out the tokens of a new login; `next` is where the page's script goes on to. The family is the state's last. */
export function startFamily(
  app: App,
  state: AppState,
  rules: TokenRules,
  of: Pick<TokenFamily, 'account' | 'asRole' | 'secondFactor'>,
  next: string,
  clock: Clock,
): Issued {
  const family: TokenFamily = {
    account: of.account,
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
  const access: AccessToken = { family, roles, issuedAt: clock.now };
  const withRefresh = rules.refresh !== null && (next !== null || rules.refresh.rotates);
  const refreshToken: RefreshToken = { family, issuedAt: clock.now, replaced: null };
  return {
    state: changed(state, {
      accessTokens: [...state.accessTokens, access],
      refreshTokens: withRefresh ? [...state.refreshTokens, refreshToken] : state.refreshTokens,
    }),
    body: {
      kind: 'tokens',
      accessToken: handle('access', state.accessTokens.length),
      expiresIn: rules.access.life,
      refreshToken: withRefresh ? handle('refresh', state.refreshTokens.length) : null,
      claims: { account, roles, secondFactor },
      next,
    },
  };
}

const NO_ROLES: ReadonlySet<string> = new Set();

/** Stops honouring the tokens of one login. */
export function endFamily(state: AppState, family: number, reason: Reason): AppState {
  const record = state.families[family];
  if (record === undefined || record.ended !== null) return state;
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
  const shown = request.form.get('refresh_token');
  const grant = request.form.get('grant_type');
  const refused = (
    error: Extract<Body, { kind: 'token-error' }>['error'],
    reason: Reason,
    after = state,
  ): Answer => ({
    state: after,
    response: respond(400, { body: { kind: 'token-error', error } }),
    explanation: explain(null, reason, grounds.at),
  });
  if (grant !== undefined && grant !== 'refresh_token') return refused('unsupported_grant_type', 'guest');
  if (grant === undefined || shown === undefined || !rules?.refresh) {
    return refused('invalid_request', 'guest');
  }

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
    response: respond(200, { body: issued.body }),
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
  const body: TokenBody = {
    kind: 'tokens',
    accessToken: handle('access', replaced.access),
    expiresIn: rules.access.life,
    refreshToken: handle('refresh', replaced.refresh),
    claims: { account, roles: state.accessTokens[replaced.access]?.roles ?? NO_ROLES, secondFactor },
    next: null,
  };
  return { state, response: respond(200, { body }), explanation: explain(account, 'served', grounds.at) };
}

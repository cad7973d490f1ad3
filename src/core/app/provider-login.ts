import type { Clock } from '../time/clock.js';
import { parameterOf, withParameter } from '../http/address.js';
import type { CookieRules } from '../http/cookies.js';
import type { HttpRequest } from '../http/messages.js';
import type { Account, IdentityProvider, Policy } from '../language/policy.js';
import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';
import { explain, redirect, type Answer } from './answer.js';
import { changed, handle, indexOf, type App, type AppState } from './app.js';
import { clearedIn, handedOutIn, shownIn } from './own-cookies.js';
import { signIn } from './sign-in.js';
import type { Reason } from './reasons.js';
import { newAccount, withAccount } from './sign-up.js';

/** The cookie by which an app knows which browser it has sent to a provider: all that the answer is held against is in it. */
export function stateCookie({ session }: Pick<Policy, 'session'>): Omit<CookieRules, 'life'> {
  return { ...session.cookie, name: 'sign-in-state', others: [], path: '/', sameSite: 'lax' };
}

/** How long somebody may take at a provider, in seconds. */
const AWAY = 600;

/** Sends somebody to a provider (OpenID Connect Core §3.1.2.1), and remembers what for. */
export function startAtProvider(
  { policy }: App,
  state: AppState,
  request: HttpRequest,
  provider: IdentityProvider,
): Answer {
  const rules = policy.login?.return ?? null;
  const back = rules === null ? null : parameterOf(request.query, rules.param);
  const asked = [...state.asked, { provider: provider.name, back }];
  const value = handle('asked', asked.length - 1);
  const to = withParameter(`${provider.issuer}${PROVIDER_PATHS.authorize}`, 'state', value);
  return {
    state: changed(state, { asked }),
    response: redirect(request.method, to, handedOutIn(stateCookie(policy), value, AWAY)),
    explanation: explain(null, 'forwarded', provider.at),
  };
}

/** Takes the answer of a provider (OpenID Connect Core §3.1.2.5), and lets in whom it names. */
export function backFromProvider(
  app: App,
  state: AppState,
  request: HttpRequest,
  provider: IdentityProvider,
  clock: Clock,
): Answer {
  const { policy } = app;
  const { login } = policy;
  if (login === null) throw new Error('a provider without login rules');
  const cookie = stateCookie(policy);
  const own = indexOf('asked', shownIn(request.cookie, cookie) ?? '');
  const refused = (after: AppState, reason: Reason, key: string): Answer => ({
    state: after,
    response: redirect(request.method, login.page, own < 0 ? [] : clearedIn(cookie)),
    explanation: explain(null, reason, [...provider.at, key]),
  });
  const sent = indexOf('asked', parameterOf(request.query, 'state') ?? '');
  if (provider.state === 'checked' && (own < 0 || sent !== own)) {
    return refused(state, 'answer-refused', 'state');
  }
  const index = indexOf('code', parameterOf(request.query, 'code') ?? '');
  const code = state.codes[index];
  if (code?.provider !== provider.name || code.used) return refused(state, 'answer-refused', 'back');
  const used = changed(state, { codes: state.codes.with(index, { ...code, used: true }) });
  // RFC 7636 §4.6, and OpenID Connect Core §3.1.3.7: code and token are those of the request that this browser made.
  if (provider.pkce && code.asked !== own) return refused(used, 'answer-refused', 'pkce');
  if (provider.nonce === 'checked' && code.asked !== own) return refused(used, 'answer-refused', 'nonce');
  const known = accountOf(policy, provider, used, code.person, clock);
  if (known === null) return refused(used, 'unknown-person', 'unknown');
  const { account, after } = known;
  if (account.state !== 'active') return refused(after, account.state, 'knows');
  const asked = used.asked[own]?.back ?? null;
  const answer = signIn(app, after, request, { account, code: provider.code, by: login, asked }, clock);
  const setCookie =
    own < 0 ? answer.response.setCookie : [...answer.response.setCookie, ...clearedIn(cookie)];
  return { ...answer, response: { ...answer.response, setCookie } };
}

/** The account of somebody whom a provider names, made on the spot where the policy says so; null for nobody's. */
function accountOf(
  policy: Policy,
  provider: IdentityProvider,
  state: AppState,
  person: string,
  clock: Clock,
): { readonly account: Account; readonly after: AppState } | null {
  if (provider.knows.has(person)) {
    const account = state.accounts.get(person);
    return account === undefined ? null : { account, after: state };
  }
  const made = state.accounts.get(person);
  const isOfPolicy = policy.accounts.has(person);
  if (provider.unknown === 'refuse' || isOfPolicy) return null;
  if (made !== undefined) return { account: made, after: state };
  if (policy.signUp === null) return null;
  const account = newAccount(policy, { ...policy.signUp, then: 'login' }, person, '');
  return { account, after: withAccount(state, account, { ...policy.signUp, then: 'login' }, clock) };
}

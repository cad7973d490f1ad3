import type { Clock } from '../time/clock.js';
import type { Address } from '../http/address.js';
import { isSafe, NO_FIELDS, type Body, type Method } from '../http/messages.js';
import type { Client } from './client.js';
import { authorized, done, go, ownFields, withTab, within } from './navigation.js';
import type { BrowserState, Call, HeldTokens, Load, Purpose, Tab, Turn } from './state.js';

/**
 * Keeps the tokens of a response. A response without a refresh token leaves the one that is held (RFC 6749 §6). Where refreshes
 * are shared, tabs that hold the same refresh token are told.
 */
export function keep(
  client: Client,
  browser: BrowserState,
  body: Extract<Body, { kind: 'tokens' }>,
  clock: Clock,
): BrowserState {
  const tokens: HeldTokens = {
    access: body.accessToken,
    refresh: body.refreshToken ?? browser.tab.tokens?.refresh ?? null,
    receivedAt: clock.now,
    expiresIn: body.expiresIn,
    claims: body.claims,
  };
  const { behind } = browser;
  const told = behind.map((tab) => (hasSameTokens(client, browser.tab, tab) ? { ...tab, tokens } : tab));
  return { ...withTab(browser, { tokens }), behind: told };
}

/** Whether two tabs share each refresh, since they hold the same refresh token and tell each other. */
export function hasSameTokens(client: Client, { tokens: one }: Tab, { tokens: other }: Tab): boolean {
  const { tokens } = client;
  if (tokens?.kept !== 'tab' || tokens.sharedRefresh !== true || one === null) return false;
  return one.refresh !== null && one.refresh === other?.refresh;
}

/** Starts a call by script. Where the policy refreshes ahead of expiry, that comes first. */
export function startCall(
  client: Client,
  browser: BrowserState,
  method: Method,
  address: Address,
  clock: Clock,
  loads: readonly Load[] | null = null,
  redirects = 0,
): Turn {
  const call: Call = { method, address, refreshed: false, loads };
  const { tokens } = browser.tab;
  const ahead = client.tokens?.refreshWhen;
  if (tokens === null || !canRefresh(client, tokens) || typeof ahead !== 'number') {
    return sendCall(client, browser, call, clock, redirects);
  }
  const due = clock.elapsed(tokens.receivedAt, tokens.expiresIn - ahead);
  return due
    ? sendRefresh(client, browser, call, clock, redirects)
    : sendCall(client, browser, call, clock, redirects);
}

/** Sends a call with the access token where one is held, but never to another origin. */
export function sendCall(
  client: Client,
  browser: BrowserState,
  call: Call,
  clock: Clock,
  redirects = 0,
): Turn {
  const purpose: Purpose = { kind: 'call', call };
  const { tokens } = browser.tab;
  const form = isSafe(call.method) ? NO_FIELDS : ownFields(client, browser);
  const turn = go(
    client,
    browser,
    { method: call.method, to: call.address, purpose, form, redirects },
    clock,
  );
  if (turn.flight === null || tokens === null || tokens.access === '') return turn;
  return call.address.origin === client.origin
    ? authorized(turn, turn.flight, `Bearer ${tokens.access}`)
    : turn;
}

/** A 401, and only a 401, with a token held and no refresh behind it, is worth one refresh. */
export function mayRefresh(client: Client, browser: BrowserState, call: Call, status: number): boolean {
  if (status !== 401 || call.refreshed || client.tokens?.refreshWhen === 'never') return false;
  return browser.tab.tokens !== null && canRefresh(client, browser.tab.tokens);
}

/** Whether there is a refresh token: one that script holds, or a cookie that it cannot see. */
export function canRefresh({ tokens }: Client, held: HeldTokens): boolean {
  return held.refresh !== null || (tokens?.kept === 'cookie' && tokens.refresh !== null);
}

/** Gets new tokens (RFC 6749 §6), for a call that waits for them or for nothing else. */
export function sendRefresh(
  client: Client,
  browser: BrowserState,
  call: Call | null,
  clock: Clock,
  redirects = 0,
): Turn {
  const { tokens } = client;
  if (tokens === null) return done(browser);
  const form = new Map([['grant_type', 'refresh_token']]);
  if (tokens.kept !== 'cookie') form.set('refresh_token', browser.tab.tokens?.refresh ?? '');
  const purpose: Purpose = { kind: 'refresh', call: call && { ...call, refreshed: true } };
  const { method, path } = tokens.submit;
  return go(client, browser, { method, to: within(client, path), purpose, form, redirects }, clock);
}

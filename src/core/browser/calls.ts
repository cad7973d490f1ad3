import type { Clock } from '../clock.js';
import type { Address } from '../http/address.js';
import { NO_FIELDS, type Body, type Method } from '../http/messages.js';
import type { Client } from './client.js';
import { done, go, withToken, within } from './navigation.js';
import type { BrowserState, Call, HeldTokens, Purpose, Turn } from './state.js';

/** Keeps the tokens of a response. A response without a refresh token leaves the one that is held (RFC 6749 §6). */
export function keep(
  browser: BrowserState,
  body: Extract<Body, { kind: 'tokens' }>,
  clock: Clock,
): BrowserState {
  const tokens: HeldTokens = {
    access: body.accessToken,
    refresh: body.refreshToken ?? browser.tab.tokens?.refresh ?? null,
    receivedAt: clock.now,
    expiresIn: body.expiresIn,
  };
  return { ...browser, tab: { ...browser.tab, tokens } };
}

/** Starts a call by script. Where the policy refreshes ahead of expiry, that comes first. */
export function startCall(
  client: Client,
  browser: BrowserState,
  method: Method,
  address: Address,
  clock: Clock,
): Turn {
  const call: Call = { method, address, refreshed: false };
  const { tokens } = browser.tab;
  const ahead = client.tokens?.refreshWhen;
  if (tokens === null || tokens.refresh === null || typeof ahead !== 'number') {
    return sendCall(client, browser, call, clock);
  }
  const due = clock.elapsed(tokens.receivedAt, tokens.expiresIn - ahead);
  return due ? sendRefresh(client, browser, call, clock) : sendCall(client, browser, call, clock);
}

/** Sends a call with the access token where one is held, but never to another origin. */
export function sendCall(client: Client, browser: BrowserState, call: Call, clock: Clock): Turn {
  const turn = go(client, browser, call.method, call.address, { kind: 'call', call }, NO_FIELDS, 0, clock);
  const { tokens } = browser.tab;
  if (turn.flight === null || tokens === null || tokens.access === '') return turn;
  return withToken(turn, turn.flight, `Bearer ${tokens.access}`);
}

/** A 401, and only a 401, with a token held and no refresh behind it, is worth one refresh. */
export function mayRefresh(client: Client, browser: BrowserState, call: Call, status: number): boolean {
  if (status !== 401 || call.refreshed || client.tokens?.refreshWhen === 'never') return false;
  return browser.tab.tokens !== null && browser.tab.tokens.refresh !== null;
}

/** RFC 6749 §6. */
export function sendRefresh(client: Client, browser: BrowserState, call: Call, clock: Clock): Turn {
  const { tokens } = client;
  if (tokens === null) return done(browser);
  const fields = new Map([
    ['grant_type', 'refresh_token'],
    ['refresh_token', browser.tab.tokens?.refresh ?? ''],
  ]);
  const purpose: Purpose = { kind: 'refresh', call: { ...call, refreshed: true } };
  return go(
    client,
    browser,
    tokens.submit.method,
    within(client, tokens.submit.path),
    purpose,
    fields,
    0,
    clock,
  );
}

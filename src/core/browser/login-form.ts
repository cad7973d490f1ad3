import type { Clock } from '../clock.js';
import { parameterOf } from '../http/address.js';
import { NO_FIELDS } from '../http/messages.js';
import type { Client } from './client.js';
import { done, go, within } from './navigation.js';
import type { BrowserState, Fill, HeldTokens, Purpose, ShownPage, Turn } from './state.js';

export function atLoginForm(client: Client, page: ShownPage | null): boolean {
  return page !== null && page.status === 200 && page.address.path === client.login?.page;
}

/** Fills in and sends the login form; a return address in the page's own query goes along in a hidden field. */
export function sendLogin(client: Client, browser: BrowserState, fill: Fill, clock: Clock): Turn {
  const { login } = client;
  if (login === null) return done(browser);
  const fields = new Map<string, string>().set('account', fill.account).set('password', fill.password);
  if (login.returnParameter !== null) {
    const back = parameterOf(browser.tab.page?.address.query ?? '', login.returnParameter);
    if (back !== null) fields.set(login.returnParameter, back);
  }
  const purpose: Purpose = login.byScript ? { kind: 'login' } : { kind: 'navigate', fill: null };
  return go(
    client,
    browser,
    login.submit.method,
    within(client, login.submit.path),
    purpose,
    fields,
    0,
    clock,
  );
}

/** Sends the logout form; script adds the refresh token, so that it can be ended, and drops what is to be cleared. */
export function sendLogout(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { logout } = client;
  if (logout === null) return done(browser);
  const { tokens } = browser.tab;
  const fields =
    tokens === null || tokens.refresh === null ? NO_FIELDS : new Map([['refresh_token', tokens.refresh]]);
  const left = { ...browser, tab: { ...browser.tab, tokens: withoutCleared(tokens, logout.clears) } };
  const to = within(client, logout.submit.path);
  return go(client, left, logout.submit.method, to, { kind: 'navigate', fill: null }, fields, 0, clock);
}

function withoutCleared(tokens: HeldTokens | null, clears: ReadonlySet<string>): HeldTokens | null {
  if (tokens === null) return null;
  const refresh = clears.has('refresh') ? null : tokens.refresh;
  const access = clears.has('access') ? '' : tokens.access;
  return refresh === null && access === '' ? null : { ...tokens, access, refresh };
}

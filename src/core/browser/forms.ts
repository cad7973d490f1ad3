import type { Clock } from '../clock.js';
import { parameterOf, targetOf } from '../http/address.js';
import { NO_FIELDS } from '../http/messages.js';
import type { Client, FormName } from './client.js';
import { done, go, withTab, within } from './navigation.js';
import type { BrowserState, Fill, HeldTokens, Purpose, ShownPage, Turn } from './state.js';

/** Whether a page shows a form. */
export function showsForm(client: Client, page: ShownPage | null, form: FormName): boolean {
  return page !== null && page.status === 200 && page.address.path === client.forms[form]?.page;
}

/** Fills in and sends a form; a return address in the page's own query goes along in a hidden field. */
export function sendForm(client: Client, browser: BrowserState, fill: Fill, clock: Clock): Turn {
  const form = client.forms[fill.form];
  if (form === null) return done(browser);
  const fields = new Map(fill.fields);
  const { returnParameter } = client;
  if (returnParameter !== null) {
    const back = parameterOf(browser.tab.page?.address.query ?? '', returnParameter);
    if (back !== null) fields.set(returnParameter, back);
  }
  const purpose: Purpose = form.byScript ? { kind: 'login' } : { kind: 'navigate', fill: null };
  const to = within(client, form.submit.path);
  return go(client, browser, { method: form.submit.method, to, purpose, form: fields }, clock);
}

/** Sends the logout form; script adds the refresh token, so that it can be ended, and drops what is to be cleared. */
export function sendLogout(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { logout } = client;
  if (logout === null) return done(browser);
  const { tokens, page } = browser.tab;
  const form =
    tokens === null || tokens.refresh === null ? NO_FIELDS : new Map([['refresh_token', tokens.refresh]]);
  const left = withTab(browser, { tokens: withoutCleared(tokens, logout.clears) });
  const { method, path } = logout.submit;
  const referer = page === null ? '' : targetOf(page.address);
  const purpose: Purpose = { kind: 'navigate', fill: null, byScript: true };
  return go(client, left, { method, to: within(client, path), purpose, form, referer }, clock);
}

function withoutCleared(tokens: HeldTokens | null, clears: ReadonlySet<string>): HeldTokens | null {
  if (tokens === null) return null;
  const refresh = clears.has('refresh') ? null : tokens.refresh;
  const access = clears.has('access') ? '' : tokens.access;
  const nothing = refresh === null && access === '';
  // Of tokens in cookies script knows only that they are there.
  return nothing && (tokens.access !== '' || clears.has('access')) ? null : { ...tokens, access, refresh };
}

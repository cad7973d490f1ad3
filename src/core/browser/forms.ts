import type { Clock } from '../time/clock.js';
import { parameterOf, targetOf, withParameter } from '../http/address.js';
import { normalisePath } from '../paths/normalise.js';
import { firstEntry } from '../app/landing.js';
import { NO_FIELDS, type FormName } from '../http/messages.js';
import type { Client, Form } from './client.js';
import { authorized, done, go, ownFields, withTab, within } from './navigation.js';
import { knownToScript } from './script.js';
import type { BrowserState, Fill, HeldTokens, Purpose, ShownPage, Turn } from './state.js';

/** Whether a page shows a form: it is the form's own, or was shown again with it. */
export function showsForm(client: Client, page: ShownPage | null, form: FormName, own?: string): boolean {
  const known = client.forms[form];
  const at = own ?? known?.page;
  if (page === null || at === undefined) return false;
  if (page.again !== null) return client.forms[page.again]?.page === at;
  // Each site has its own forms.
  const isThere =
    (known?.elsewhere ?? null) === (client.issuers.has(page.address.origin) ? page.address.origin : null);
  return isThere && page.status === 200 && normalisePath(page.address.path) === at;
}

/** The return address that the form of a page passes on; null for none. */
export function passedOn({ returnParameter }: Client, page: ShownPage | null): string | null {
  if (returnParameter === null || page === null) return null;
  return page.again === null
    ? parameterOf(page.address.query, returnParameter)
    : (page.sent.get(returnParameter) ?? null);
}

/** The page of a form, or the link of the login page that leads to the site that has it; the return address goes along. */
export function wayTo(
  client: Client,
  { tab: { page: here } }: BrowserState,
  { opens, elsewhere }: Form,
): string {
  if (elsewhere === undefined) return opens;
  const back = showsForm(client, here, 'login') ? passedOn(client, here) : null;
  return back === null ? opens : withParameter(opens, client.returnParameter ?? '', back);
}

/** Fills in and sends a form; a return address in the page's own query goes along in a hidden field. */
export function sendForm(client: Client, browser: BrowserState, fill: Fill, clock: Clock): Turn {
  const form = client.forms[fill.form];
  if (!form) return done(browser);
  const fields = new Map(fill.fields);
  const back = passedOn(client, browser.tab.page);
  // What the app has sent along goes back with the answer.
  const state =
    form.elsewhere === undefined ? null : parameterOf(browser.tab.page?.address.query ?? '', 'state');
  if (state !== null) fields.set('state', state);
  if (back !== null && form.elsewhere === undefined) fields.set(client.returnParameter ?? '', back);
  const purpose: Purpose = form.byScript ? { kind: 'login' } : { kind: 'navigate', fill: null };
  const to = within(client, fill.at ?? form.submit.path);
  const sending = { method: form.submit.method, to, purpose, form: ownFields(client, browser, fields) };
  const turn = go(client, browser, sending, clock);
  const { tokens } = browser.tab;
  // Whoever is known by a token alone shows it with the form too; where there is a session, its cookie goes along.
  const isOwn =
    fill.form === 'change-password' && client.knownByTokens && tokens !== null && tokens.access !== '';
  return isOwn && turn.flight !== null ? authorized(turn, turn.flight, `Bearer ${tokens.access}`) : turn;
}

/** Sends a form like one of the app's that stands on a page of another site. */
export function sendForeignForm(
  client: Client,
  browser: BrowserState,
  fill: Fill,
  from: string,
  clock: Clock,
): Turn {
  const form = client.forms[fill.form];
  if (!form) return done(browser);
  const { method, path } = form.submit;
  const purpose: Purpose = { kind: 'navigate', fill: null };
  const sending = { method, to: within(client, path), purpose, form: fill.fields, from };
  return go(client, browser, sending, clock);
}

/** Sends the logout form; script adds the refresh token, so that it can be ended, and drops what is to be cleared. */
export function sendLogout(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { logout } = client;
  if (logout === null) return done(browser);
  const { tokens, page } = browser.tab;
  const own =
    tokens === null || tokens.refresh === null ? NO_FIELDS : new Map([['refresh_token', tokens.refresh]]);
  const left = withTab(browser, { tokens: withoutCleared(tokens, logout.clears) });
  const { method, path } = logout.submit;
  const referer = page === null ? '' : targetOf(page.address);
  const visitor = logout.byScript ? knownToScript(client, browser, clock) : null;
  const purpose: Purpose =
    visitor === null
      ? { kind: 'navigate', fill: null, byScript: true }
      : { kind: 'login', otherwise: firstEntry(logout.lands, visitor, page?.address.path)?.to ?? '/' };
  const form = ownFields(client, browser, own);
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

/** The forms that an app has. */
export function formNames({ forms }: Pick<Client, 'forms'>): FormName[] {
  return (Object.keys(forms) as FormName[]).filter((name) => forms[name] !== null);
}

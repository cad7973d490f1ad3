import { admit } from '../app/admit.js';
import { GUEST, type Identity } from '../app/identify.js';
import { firstEntry } from '../app/landing.js';
import { reasonKind, type Reason } from '../app/reasons.js';
import type { Clock } from '../time/clock.js';
import type { LoginForm } from '../http/messages.js';
import { targetOf, withParameter } from '../http/address.js';
import { canRefresh, startCall } from './calls.js';
import type { Client } from './client.js';
import { done, open, withTab, within } from './navigation.js';
import type { BrowserState, Load, PageBody, ScriptedPage, Turn } from './state.js';

/** What the script of a page does once it is shown: decides, where the page leaves that to it, then loads its data. */
export function runScript(
  client: Client,
  browser: BrowserState,
  body: ScriptedPage,
  redirects: number,
  clock: Clock,
): Turn {
  const { guard } = body;
  // Without tokens script knows nothing of the visitor: a session's cookie is not for it to read.
  if (guard === null || client.tokens === null) {
    return nextLoad(client, browser, body.loads, redirects, clock);
  }
  const visitor = { ...knownToScript(client, browser, clock), flags: guard.flags };
  const reason = admit(guard.audience, visitor, guard.parameters, clock);
  if (reason !== 'served') return turnAway(client, browser, reason, redirects, clock);
  const drawn = visitor.account === null ? browser : drawnFor(client, browser, guard, visitor, clock);
  return nextLoad(client, drawn, body.loads, redirects, clock);
}

/** The page with the links and parts that script draws for whom it knows. */
function drawnFor(
  client: Client,
  browser: BrowserState,
  guard: NonNullable<PageBody['guard']>,
  visitor: Identity,
  clock: Clock,
): BrowserState {
  const { page } = browser.tab;
  if (page === null) return browser;
  const menu = client.menu
    .filter(({ audience, parameters }) => admit(audience, visitor, parameters, clock) === 'served')
    .map(({ to }) => to);
  const parts = guard.parts
    .filter(({ audience }) => admit(audience, visitor, guard.parameters, clock) === 'served')
    .map(({ name }) => name);
  return withTab(browser, { page: { ...page, menu, parts } });
}

/** Makes the next of a page's requests; without any the page is complete. */
export function nextLoad(
  client: Client,
  browser: BrowserState,
  loads: readonly Load[],
  redirects: number,
  clock: Clock,
): Turn {
  const [load, ...rest] = loads;
  if (load === undefined) return done(browser);
  return startCall(client, browser, load.method, within(client, load.path), clock, rest, redirects);
}

/** A page whose data was refused sends its visitor where a refusal of the page would have. */
export function dataRefused(
  client: Client,
  browser: BrowserState,
  reason: 'guest' | 'stale-login' | 'role',
  redirects: number,
  clock: Clock,
): Turn {
  return turnAway(client, browser, reason, redirects, clock, false);
}

/**
 * Whom script takes the visitor for: the holder of the token, as the token says. A token that nothing renews is worth nothing
 * once it is over, and script knows when that is (RFC 6749 §5.1, expires_in).
 */
export function knownToScript(client: Client, browser: BrowserState, clock: Clock): Identity {
  const { tokens } = browser.tab;
  if (tokens === null || (tokens.access === '' && client.tokens?.kept !== 'cookie')) return GUEST;
  if (!canRefresh(client, tokens) && clock.elapsed(tokens.receivedAt, tokens.expiresIn)) return GUEST;
  return { ...GUEST, ...tokens.claims, by: 'token', since: tokens.receivedAt, reason: 'served' };
}

function turnAway(
  client: Client,
  browser: BrowserState,
  reason: Reason,
  redirects: number,
  clock: Clock,
  bySight = true,
): Turn {
  const to = targetFor(client, browser, reason, clock);
  const turn =
    to === null
      ? done(bySight ? withStatus(browser, 403) : browser)
      : open(client, browser, to, clock, { redirects: redirects + 1, byScript: true });
  return bySight ? { ...turn, refusedByScript: reason } : turn;
}

/** Where script goes with somebody it turns away; null where it says so on the page itself. */
function targetFor(client: Client, browser: BrowserState, reason: Reason, clock: Clock): string | null {
  const chosen = (browser.tab.page?.refusals ?? client.refusals)[
    reasonKind(reason).refusal ?? (reason === 'guest' ? 'guest' : 'role')
  ];
  const withReturn = (page: string | null) => {
    const here = browser.tab.page?.address;
    if (page === null || client.returnParameter === null || here === undefined) return page;
    return withParameter(page, client.returnParameter, targetOf(here));
  };
  switch (chosen.to) {
    case 'status':
    case 'shell':
      return null;
    case 'path':
      return chosen.path;
    case 'landing':
      return firstEntry(client.landing, knownToScript(client, browser, clock))?.to ?? null;
    case 'login':
      return withReturn(client.loginPages[formOf(client, chosen.login)] ?? null);
    case 'code-page':
      return withReturn(client.forms.code?.page ?? null);
  }
}

function withStatus(browser: BrowserState, status: number): BrowserState {
  const { page } = browser.tab;
  return page === null ? browser : withTab(browser, { page: { ...page, status } });
}

/** The form of the login of a name, or of the first. */
function formOf({ loginPages }: Client, name: string | undefined): LoginForm {
  const form: LoginForm = `login ${name ?? ''}`;
  return loginPages[form] === undefined ? 'login' : form;
}

import type { Clock, Instant } from '../time/clock.js';
import { resolveAddress, type Address } from '../http/address.js';
import { isSafe, NO_FIELDS, type HttpRequest, type Method } from '../http/messages.js';
import { isSameSite } from '../http/site.js';
import type { Client } from './client.js';
import { cookieHeader } from './cookie-jar.js';
import type { BrowserState, Fill, Flight, Purpose, ShownPage, Turn } from './state.js';

/** Redirects that a browser follows before it gives up (https://fetch.spec.whatwg.org/#http-redirect-fetch, step 7). */
const MOST_REDIRECTS = 20;
const NONE: readonly string[] = [];

export function done(browser: BrowserState): Turn {
  return { browser, flight: null, cutShort: null, refusedCookies: NONE, refusedByScript: null };
}

/** A request to send. What is left out is empty. */
export interface Sending {
  readonly method: Method;
  readonly to: Address;
  readonly purpose: Purpose;
  readonly form?: ReadonlyMap<string, string>;
  readonly referer?: string;
  /** The times that the visitor was sent on so far. */
  readonly redirects?: number;
  /** The origin of a page that is none of the app, where that has it sent. */
  readonly from?: string | undefined;
  /** Whether another site has it sent, or had the chain of redirects begun that it belongs to. */
  readonly crossSite?: boolean;
  /** Whether a page of another origin has it sent; left out: as `from` and `crossSite` say. */
  readonly crossOrigin?: boolean;
}

/** How somebody goes to an address. What is left out is not so. */
export interface Going {
  readonly fill?: Fill;
  readonly redirects?: number;
  /** The origin of a page that is none of the app, where the link stands. */
  readonly from?: string | undefined;
  /** Whether script, or a link of the page, names it. */
  readonly byScript?: boolean | undefined;
}

/** Goes to an address that was typed, or that script or a link of the page names. */
export function open(
  client: Client,
  browser: BrowserState,
  reference: string,
  clock: Clock,
  { fill, redirects = 0, from, byScript = false }: Going = {},
): Turn {
  const to = within(client, reference);
  const purpose: Purpose = { kind: 'navigate', fill: fill ?? null, ...(byScript ? { byScript } : {}) };
  if (redirects > MOST_REDIRECTS) return cutShort(browser, to, purpose, 'GET', 'redirect-loop');
  return go(client, browser, { method: 'GET', to, purpose, redirects, from }, clock);
}

export function within(client: Client, reference: string): Address {
  const home = { origin: client.origin, path: '/', query: '' };
  return resolveAddress(reference, home) ?? home;
}

/** Sends a request with the cookies for it. Another origin is not part of the simulation: the way ends there. */
export function go(client: Client, browser: BrowserState, sending: Sending, clock: Clock): Turn {
  const { method, to, purpose } = sending;
  const { from } = sending;
  const crossSite = sending.crossSite ?? (from !== undefined && !isSameSite(from, to.origin));
  if (to.origin !== client.origin && !client.origins.has(to.origin)) {
    return cutShort(browser, to, purpose, method, 'off-origin');
  }
  const request: HttpRequest = {
    method,
    origin: to.origin,
    path: to.path,
    query: to.query,
    cookie: cookieHeader(browser.cookies, to, clock, crossSite ? { method, crossSite } : undefined),
    authorization: '',
    apiKey: '',
    accept: purpose.kind === 'navigate' ? 'text/html' : 'application/json',
    referer: sending.referer ?? '',
    client: browser.client,
    crossOrigin: sending.crossOrigin ?? (from !== undefined || crossSite),
    form: sending.form ?? NO_FIELDS,
  };
  const flight = { request, purpose, redirects: sending.redirects ?? 0, crossSite };
  return { browser, flight, cutShort: null, refusedCookies: NONE, refusedByScript: null };
}

/** The fields of a form of the page in front, with what shows that it is the app's own. */
export function ownFields(
  { csrfField }: Client,
  browser: BrowserState,
  fields: ReadonlyMap<string, string> = NO_FIELDS,
): ReadonlyMap<string, string> {
  const token = csrfField === null ? null : (browser.tab.page?.token ?? null);
  return csrfField === null || token === null ? fields : new Map(fields).set(csrfField, token);
}

/** Ends a way that leads nowhere: a page is shown for an address without an answer, a call leaves the page as it is. */
function cutShort(
  browser: BrowserState,
  to: Address,
  purpose: Purpose,
  method: Method,
  because: NonNullable<Turn['cutShort']>,
  status = 0,
): Turn {
  const page: ShownPage = {
    address: to,
    method,
    status,
    menu: NONE,
    parts: NONE,
    reader: null,
    kept: false,
    frozen: false,
    sent: NO_FIELDS,
    crossSite: false,
    again: null,
    token: null,
    script: null,
    refusals: null,
  };
  const left = purpose.kind === 'navigate' ? showing(browser, page, purpose, null) : browser;
  return { ...done(left), cutShort: because };
}

/** A browser with something else in its tab. */
export function withTab(browser: BrowserState, change: Partial<BrowserState['tab']>): BrowserState {
  const { page, tokens, history } = browser.tab;
  const tab = {
    page: change.page === undefined ? page : change.page,
    tokens: change.tokens === undefined ? tokens : change.tokens,
    history: change.history === undefined ? history : change.history,
  };
  return { cookies: browser.cookies, tab, behind: browser.behind, client: browser.client };
}

/** A browser that shows another page; the one before goes into the history unless it is shown again. */
export function showing(
  browser: BrowserState,
  page: ShownPage,
  { again, byScript }: Extract<Purpose, { kind: 'navigate' }>,
  leftAt: Instant | null,
): BrowserState {
  const before = browser.tab.page;
  if (before === null) return withTab(browser, { page });
  const shown = page.token === null && before.token !== null ? { ...page, token: before.token } : page;
  if (again === true) return withTab(browser, { page: shown });
  const sameDocument = byScript === true && before.script !== null && page.script !== null;
  const history = { page: before, before: browser.tab.history, sameDocument, leftAt };
  return withTab(browser, { page: shown, history });
}

/** Follows a redirect: 303 always becomes a read, 301 and 302 do for POST, 307 and 308 send the same again. */
export function follow(
  client: Client,
  browser: BrowserState,
  flight: Flight,
  status: number,
  location: string,
  clock: Clock,
): Turn {
  const { request, redirects } = flight;
  const to = resolveAddress(location, request) ?? request;
  if (redirects >= MOST_REDIRECTS) {
    return cutShort(browser, to, flight.purpose, request.method, 'redirect-loop', status);
  }
  // https://fetch.spec.whatwg.org/#http-redirect-fetch, step 12.
  const becomesRead =
    (status === 303 && !isSafe(request.method)) ||
    ((status === 301 || status === 302) && request.method === 'POST');
  const method = becomesRead ? 'GET' : request.method;
  // A form that script sent and that was redirected has been answered with a page: script goes there.
  const purpose: Purpose =
    flight.purpose.kind === 'login' ? { kind: 'navigate', fill: null } : flight.purpose;
  const form = becomesRead ? NO_FIELDS : request.form;
  // The form of a provider that sends people on to the app comes from another site (RFC 6265bis §5.2).
  const comesFromProvider =
    !isSafe(request.method) && client.issuers.has(request.origin) && !client.issuers.has(to.origin);
  const crossSite = flight.crossSite || comesFromProvider;
  const crossOrigin = request.crossOrigin || crossSite;
  const sending = { method, to, purpose, form, redirects: redirects + 1, crossSite, crossOrigin };
  const next = go(client, browser, sending, clock);
  // Within the origin a redirected call keeps its token; a redirect off it ends the way above.
  return next.flight === null || request.authorization === '' || to.origin !== request.origin
    ? next
    : authorized(next, next.flight, request.authorization);
}

/** A call with an access token goes without cookies, so that the token alone speaks for the visitor. */
export function authorized(turn: Turn, flight: Flight, authorization: string): Turn {
  return { ...turn, flight: { ...flight, request: { ...flight.request, cookie: '', authorization } } };
}

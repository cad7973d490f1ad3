import type { Clock } from '../clock.js';
import { resolveAddress, type Address } from '../http/address.js';
import { isSafe, NO_FIELDS, type HttpRequest, type Method } from '../http/messages.js';
import type { Client } from './client.js';
import { cookieHeader } from './cookie-jar.js';
import type { BrowserState, Fill, Flight, Purpose, Turn } from './state.js';

/** Redirects that a browser follows before it gives up (https://fetch.spec.whatwg.org/#http-redirect-fetch, step 7). */
const MOST_REDIRECTS = 20;
const NONE: readonly string[] = [];

export function done(browser: BrowserState): Turn {
  return { browser, flight: null, cutShort: null, refusedCookies: NONE };
}

/** Goes to an address that was typed, or that script names. */
export function open(
  client: Client,
  browser: BrowserState,
  reference: string,
  fill: Fill | null,
  clock: Clock,
): Turn {
  return go(
    client,
    browser,
    'GET',
    within(client, reference),
    { kind: 'navigate', fill },
    NO_FIELDS,
    0,
    clock,
  );
}

export function within(client: Client, reference: string): Address {
  const home = { origin: client.origin, path: '/', query: '' };
  return resolveAddress(reference, home) ?? home;
}

/** Sends a request with the cookies for it. Another origin is not part of the simulation: the way ends there. */
export function go(
  client: Client,
  browser: BrowserState,
  method: Method,
  to: Address,
  purpose: Purpose,
  form: ReadonlyMap<string, string>,
  redirects: number,
  clock: Clock,
): Turn {
  if (to.origin !== client.origin) {
    const page = { address: to, method, status: 0 };
    const left = purpose.kind === 'navigate' ? { ...browser, tab: { ...browser.tab, page } } : browser;
    return { browser: left, flight: null, cutShort: 'off-origin', refusedCookies: NONE };
  }
  const request: HttpRequest = {
    method,
    origin: to.origin,
    path: to.path,
    query: to.query,
    cookie: cookieHeader(browser.cookies, to, clock),
    authorization: '',
    accept: purpose.kind === 'navigate' ? 'text/html' : 'application/json',
    form,
  };
  return { browser, flight: { request, purpose, redirects }, cutShort: null, refusedCookies: NONE };
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
    const page = { address: to, method: request.method, status };
    const lost = flight.purpose.kind === 'navigate' ? { ...browser, tab: { ...browser.tab, page } } : browser;
    return { browser: lost, flight: null, cutShort: 'redirect-loop', refusedCookies: NONE };
  }
  // https://fetch.spec.whatwg.org/#http-redirect-fetch, step 12.
  const becomesRead =
    (status === 303 && !isSafe(request.method)) ||
    ((status === 301 || status === 302) && request.method === 'POST');
  const method = becomesRead ? 'GET' : request.method;
  // A login form that script sent and that was redirected has been answered with a page: script goes there.
  const purpose: Purpose =
    flight.purpose.kind === 'login' ? { kind: 'navigate', fill: null } : flight.purpose;
  const next = go(
    client,
    browser,
    method,
    to,
    purpose,
    becomesRead ? NO_FIELDS : request.form,
    redirects + 1,
    clock,
  );
  // Within the origin a redirected call keeps its token; a redirect off it ends the way above.
  return next.flight === null || request.authorization === ''
    ? next
    : withToken(next, next.flight, request.authorization);
}

/** A call with an access token goes without cookies, so that the token alone speaks for the visitor. */
export function withToken(turn: Turn, flight: Flight, authorization: string): Turn {
  return { ...turn, flight: { ...flight, request: { ...flight.request, cookie: '', authorization } } };
}

import type { Clock } from '../clock.js';
import { NO_FIELDS, type HttpResponse } from '../http/messages.js';
import { keep, mayRefresh, sendCall, sendRefresh, startCall } from './calls.js';
import type { Client } from './client.js';
import { storeCookies } from './cookie-jar.js';
import { atLoginForm, sendLogin, sendLogout } from './login-form.js';
import { done, follow, go, open, within } from './navigation.js';
import type { BrowserState, Deed, Flight, Purpose, Turn } from './state.js';

/** The browser half, first part: what a deed makes the browser send. A deed that sends nothing is done at once. */
export function begin(client: Client, browser: BrowserState, deed: Deed, clock: Clock): Turn {
  const here = browser.tab.page;
  switch (deed.deed) {
    case 'open':
      return open(client, browser, deed.address, null, clock);
    case 'reload':
      if (here === null) return done(browser);
      return go(
        client,
        browser,
        here.method,
        here.address,
        { kind: 'navigate', fill: null },
        NO_FIELDS,
        0,
        clock,
      );
    case 'submit':
      return go(
        client,
        browser,
        deed.method,
        within(client, deed.address),
        { kind: 'navigate', fill: null },
        NO_FIELDS,
        0,
        clock,
      );
    case 'call':
      return startCall(client, browser, deed.method, within(client, deed.address), clock);
    case 'log-in': {
      if (client.login === null) return done(browser);
      const fill = { account: deed.account, password: deed.password };
      return atLoginForm(client, here)
        ? sendLogin(client, browser, fill, clock)
        : open(client, browser, client.login.page, fill, clock);
    }
    case 'log-out':
      return sendLogout(client, browser, clock);
  }
}

/** The browser half, second part: what a response to the request under way makes of it. */
export function receive(
  client: Client,
  browser: BrowserState,
  flight: Flight,
  response: HttpResponse,
  clock: Clock,
): Turn {
  const { request, purpose } = flight;
  let held = browser;
  let refused: readonly string[] = [];
  // A request that went out without cookies takes none in (https://fetch.spec.whatwg.org/#concept-request-credentials-mode).
  if (response.setCookie.length > 0 && request.authorization === '') {
    const stored = storeCookies(browser.cookies, response.setCookie, request, clock);
    held = { cookies: stored.jar, tab: browser.tab };
    refused = stored.refused;
  }
  const turn = react(client, held, flight, purpose, response, clock);
  return refused.length === 0 ? turn : { ...turn, refusedCookies: refused };
}

function react(
  client: Client,
  browser: BrowserState,
  flight: Flight,
  purpose: Purpose,
  response: HttpResponse,
  clock: Clock,
): Turn {
  if (response.location !== null && response.status >= 300 && response.status < 400) {
    return follow(client, browser, flight, response.status, response.location, clock);
  }
  switch (purpose.kind) {
    case 'navigate': {
      const { request } = flight;
      const page = { address: request, method: request.method, status: response.status };
      const shown = { cookies: browser.cookies, tab: { page, tokens: browser.tab.tokens } };
      return purpose.fill !== null && atLoginForm(client, page)
        ? sendLogin(client, shown, purpose.fill, clock)
        : done(shown);
    }
    case 'login': {
      const { body } = response;
      if (body.kind === 'tokens') {
        return open(client, keep(browser, body, clock), body.next ?? '/', null, clock);
      }
      return body.kind === 'refused-login' ? open(client, browser, body.next, null, clock) : done(browser);
    }
    case 'call':
      return mayRefresh(client, browser, purpose.call, response.status)
        ? sendRefresh(client, browser, purpose.call, clock)
        : done(browser);
    case 'refresh': {
      const { body } = response;
      if (body.kind === 'tokens') return sendCall(client, keep(browser, body, clock), purpose.call, clock);
      const dropped = { ...browser, tab: { ...browser.tab, tokens: null } };
      return open(client, dropped, client.failedRefresh, null, clock);
    }
  }
}

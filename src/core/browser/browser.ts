import { targetOf } from '../http/address.js';
import type { Clock } from '../time/clock.js';
import { isSafe, LOGIN_WANTED, NO_FIELDS, type HttpResponse } from '../http/messages.js';
import { keep, mayRefresh, sendCall, sendRefresh, startCall } from './calls.js';
import type { Client } from './client.js';
import { storeCookies } from './cookie-jar.js';
import { sendForeignForm, sendForm, sendLogout, showsForm, wayTo } from './forms.js';
import { done, follow, go, open, ownFields, showing, within, withTab } from './navigation.js';
import {
  again,
  closeTab,
  duplicateTab,
  goBack,
  restored,
  thawed,
  withoutCookies,
  withoutPageMemory,
  withTabs,
} from './tabs.js';
import { dataRefused, nextLoad, runScript } from './script.js';
import type { BrowserState, Deed, Flight, ShownPage, Turn } from './state.js';

const NOTHING: readonly string[] = [];

/** The browser half, first part: what a deed makes the browser send. A deed that sends nothing is done at once. */
export function begin(client: Client, browser: BrowserState, deed: Deed, clock: Clock): Turn {
  const here = browser.tab.page;
  const navigate = { kind: 'navigate', fill: null } as const;
  switch (deed.deed) {
    case 'open':
      return open(client, withoutPageMemory(client, browser), deed.address, clock, {
        from: deed.from,
        byScript: deed.isLink,
      });
    case 'reload':
      return here === null ? done(browser) : again(client, browser, here, clock, here.crossSite);
    case 'back':
      return goBack(client, browser, deed.pages, clock);
    case 'new-tab':
    case 'close-browser':
    case 'open-browser':
      return done(withTabs(client, browser, deed.deed));
    case 'close-tab':
      return closeTab(client, browser, clock);
    case 'duplicate-tab':
      return duplicateTab(client, browser, clock);
    case 'restore-browser':
      return restored(client, browser, clock);
    case 'clear-cookies':
      return done(withoutCookies(browser, deed.name));
    case 'submit': {
      const to = within(client, deed.address);
      const left = withoutPageMemory(client, browser);
      const { from } = deed;
      const form = from !== undefined || isSafe(deed.method) ? NO_FIELDS : ownFields(client, browser);
      const { page } = browser.tab;
      const referer = from !== undefined || page === null ? '' : targetOf(page.address);
      const sending = { method: deed.method, to, purpose: navigate, form, referer, from };
      return go(client, left, sending, clock);
    }
    case 'call':
      return startCall(client, browser, deed.method, within(client, deed.address), clock);
    case 'fill-in': {
      const { fill } = deed;
      const form = client.forms[fill.form];
      if (!form) return done(browser);
      if (deed.from !== undefined) {
        return sendForeignForm(client, withoutPageMemory(client, browser), fill, deed.from, clock);
      }
      return showsForm(client, here, fill.form, fill.at)
        ? sendForm(client, browser, fill, clock)
        : open(client, browser, fill.at ?? wayTo(client, browser, form), clock, { fill });
    }
    case 'refresh':
      return sendRefresh(client, browser, null, clock);
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
  const { request } = flight;
  let held = browser;
  let refused: readonly string[] = [];
  // A request that went out without cookies takes none in (https://fetch.spec.whatwg.org/#concept-request-credentials-mode).
  if (response.setCookie.length > 0 && request.authorization === '') {
    const stored = storeCookies(browser.cookies, response.setCookie, request, clock);
    const { tab, behind } = stored.jar === browser.cookies ? browser : thawed(browser, 'all');
    held = { cookies: stored.jar, tab, behind, client: browser.client };
    refused = stored.refused;
  }
  const turn = react(client, held, flight, response, clock);
  return refused.length === 0 ? turn : { ...turn, refusedCookies: refused };
}

function react(
  client: Client,
  browser: BrowserState,
  flight: Flight,
  response: HttpResponse,
  clock: Clock,
): Turn {
  const { purpose, redirects } = flight;
  if (response.location !== null && response.status >= 300 && response.status < 400) {
    return follow(client, browser, flight, response.status, response.location, clock);
  }
  switch (purpose.kind) {
    case 'navigate': {
      const page = pageOf(flight, response);
      const shown = showing(browser, page, purpose, clock.isAnyTime === true ? null : clock.now);
      if (purpose.fill !== null && showsForm(client, page, purpose.fill.form, purpose.fill.at)) {
        return sendForm(client, shown, purpose.fill, clock);
      }
      const { body } = response;
      return body.kind === 'page' ? runScript(client, shown, body, redirects, clock) : done(shown);
    }
    case 'login': {
      const { body } = response;
      if (body.kind === 'tokens') {
        return open(client, keep(client, browser, body, clock), body.next ?? '/', clock, { byScript: true });
      }
      const next =
        body.kind === 'refused-login' || body.kind === 'next'
          ? body.next
          : response.status < 400
            ? purpose.otherwise
            : undefined;
      return next === undefined ? done(browser) : open(client, browser, next, clock, { byScript: true });
    }
    case 'call': {
      const { call } = purpose;
      const isKnown = response.authenticate === LOGIN_WANTED;
      if (!isKnown && mayRefresh(client, browser, call, response.status)) {
        return sendRefresh(client, browser, call, clock, redirects);
      }
      // Script throws away what it is told is worth nothing and cannot renew; a login that is only too old is none of that.
      const isWorthless = response.status === 401 && !isKnown;
      const got = response.noStore ? thawed(browser, 'front') : browser;
      const held = isWorthless && got.tab.tokens !== null ? withTab(got, { tokens: null }) : got;
      if (call.loads === null) return done(held);
      return response.status < 400
        ? nextLoad(client, held, call.loads, redirects, clock)
        : dataRefused(
            client,
            held,
            isWorthless ? 'guest' : isKnown ? 'stale-login' : 'role',
            redirects,
            clock,
          );
    }
    case 'refresh': {
      const { body } = response;
      const { call } = purpose;
      if (body.kind === 'tokens') {
        const kept = keep(client, browser, body, clock);
        return call === null ? done(kept) : sendCall(client, kept, call, clock, redirects);
      }
      // Whoever asked for tokens alone keeps what they have, and goes nowhere.
      if (call === null) return done(browser);
      const dropped = withTab(browser, { tokens: null });
      return open(client, dropped, client.failedRefresh, clock, { redirects: redirects + 1, byScript: true });
    }
  }
}

function pageOf({ request, crossSite }: Flight, { status, body, noStore }: HttpResponse): ShownPage {
  const shown = body.kind === 'page';
  const isGuarded = shown && body.guard !== null;
  return {
    address: request,
    method: request.method,
    status,
    menu: shown ? body.menu : NOTHING,
    parts: shown ? body.parts : NOTHING,
    reader: shown ? body.reader : null,
    kept: shown && !noStore,
    frozen: shown && status === 200 && request.method === 'GET',
    sent: request.form,
    crossSite,
    again: shown ? body.again : null,
    token: shown ? body.token : null,
    script: isGuarded ? { guard: body.guard, loads: body.loads } : null,
    refusals: shown ? body.refusals : null,
  };
}

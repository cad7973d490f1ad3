import type { Clock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Client } from './client.js';
import { done, go, open, withTab } from './navigation.js';
import { isSafe } from '../http/messages.js';
import { targetOf } from '../http/address.js';
import { runScript } from './script.js';
import {
  NEW_BROWSER,
  type BrowserState,
  type History,
  type ShownPage,
  type Tab,
  type Turn,
} from './state.js';

const NEW_TAB: Tab = NEW_BROWSER.tab;

/**
 * Asks for a page once more; it takes its own place in the history.
 *
 * @param crossSite whether another site is taken to ask for it
 */
export function again(
  client: Client,
  browser: BrowserState,
  page: ShownPage,
  clock: Clock,
  crossSite = false,
): Turn {
  const purpose = { kind: 'navigate', fill: null, again: true } as const;
  const left = withoutPageMemory(client, browser);
  const sending = { method: page.method, to: page.address, purpose, form: page.sent, crossSite };
  return go(client, left, sending, clock);
}

/**
 * How long a browser keeps a page that it was told not to store as it was left (Chromium; others keep none). One that may be
 * stored can be shown at any time.
 */
export const LONGEST_FROZEN: Seconds = 180;

/**
 * The back button: a page is shown as it was kept or left, or asked for again where it must not be. Within one document of an
 * app that is guarded in the browser script judges again.
 */
export function goBack(client: Client, browser: BrowserState, pages: number, clock: Clock): Turn {
  let { history } = browser.tab;
  let sameDocument = history?.sameDocument === true;
  for (let left = pages; left > 1 && history !== null; left--) {
    history = history.before;
    sameDocument &&= history?.sameDocument === true;
  }
  if (history === null) return done(browser);
  const { page, before, leftAt } = history;
  const isFrozen = page.frozen && (leftAt === null || !clock.elapsed(leftAt, LONGEST_FROZEN));
  if (!page.kept && !isFrozen) {
    return again(client, withTab(withoutPageMemory(client, browser), { page, history: before }), page, clock);
  }
  if (!sameDocument || page.script === null) {
    return done(withTab(withoutPageMemory(client, browser), { page, history: before }));
  }
  return runScript(client, withTab(browser, { page, history: before }), page.script, 0, clock);
}

/** A browser whose cookies have changed, or whose page in front has got what must not be stored: it lets go of what it had left. */
export function thawed(browser: BrowserState, which: 'all' | 'front'): BrowserState {
  const { tab, behind } = browser;
  if (which === 'front') {
    return tab.page?.frozen === true ? withTab(browser, { page: unfrozen(tab.page) }) : browser;
  }
  if (![tab, ...behind].some(hasFrozen)) return browser;
  return { ...browser, tab: withoutFrozen(tab), behind: behind.map(withoutFrozen) };
}

function hasFrozen({ page, history }: Tab): boolean {
  if (page?.frozen === true) return true;
  for (let at = history; at !== null; at = at.before) if (at.page.frozen) return true;
  return false;
}

function withoutFrozen(tab: Tab): Tab {
  if (!hasFrozen(tab)) return tab;
  const entries: History[] = [];
  for (let at = tab.history; at !== null; at = at.before) entries.push(at);
  const history = entries.reduceRight<History | null>(
    (before, entry) => ({ ...entry, page: unfrozen(entry.page), before }),
    null,
  );
  return { ...tab, page: tab.page && unfrozen(tab.page), history };
}

function unfrozen(page: ShownPage): ShownPage {
  return page.frozen ? { ...page, frozen: false } : page;
}

/** Tokens that a page keeps in its own memory are gone when it is left by anything but its script. */
export function withoutPageMemory(client: Client, browser: BrowserState): BrowserState {
  return client.tokens?.kept === 'page' && browser.tab.tokens !== null
    ? withTab(browser, { tokens: null })
    : browser;
}

/** Whether tokens are in a storage that all tabs of a browser have in common. */
export function isStorageShared({ tokens }: Client): boolean {
  return tokens?.kept === 'browser' || tokens?.kept === 'cookie';
}

/** The browser with the tab behind brought to the front; done again, it is as before. Unchanged where there is none. */
export function turnedOver(client: Client, browser: BrowserState): BrowserState {
  const { tab, behind } = browser;
  const below = behind.at(-1);
  if (below === undefined) return browser;
  const next = isStorageShared(client) ? { ...below, tokens: tab.tokens } : below;
  return { ...browser, tab: next, behind: [...behind.slice(0, -1), tab] };
}

/** Whether a browser shows or has shown anything since it was opened. */
export function isInUse({ tab, behind }: BrowserState): boolean {
  return behind.length > 0 || tab.page !== null || tab.history !== null;
}

/** Opens and closes tabs, or the whole browser. */
export function withTabs(
  client: Client,
  browser: BrowserState,
  what: 'new-tab' | 'close-tab' | 'close-browser' | 'open-browser',
): BrowserState {
  const { cookies, tab, behind, client: address } = browser;
  // The storage of the browser is the same in every tab, and is still there after it was closed.
  const isShared = isStorageShared(client);
  const shared = isShared ? tab.tokens : null;
  const keeping = (next: Tab): Tab => (shared === null ? next : { ...next, tokens: shared });
  switch (what) {
    case 'new-tab':
      return { cookies, tab: keeping(NEW_TAB), behind: [...behind, tab], client: address };
    case 'close-tab': {
      const below = behind.at(-1) ?? NEW_TAB;
      const own = isShared ? { ...below, tokens: tab.tokens } : below;
      return { cookies, tab: own, behind: behind.slice(0, -1), client: address };
    }
    case 'close-browser': {
      // A cookie without a life of its own dies with the browser (RFC 6265bis §5.7, step 3).
      const lasting = cookies.filter((cookie) => cookie.life !== null || cookie.copied === true);
      return { cookies: lasting, tab: keeping(NEW_TAB), behind: [], client: address };
    }
    case 'open-browser':
      return { cookies, tab: keeping(NEW_TAB), behind: [], client: address };
  }
}

/** Closes the tab in front. The one behind it loads its page now where the browser was started since, and did not yet. */
export function closeTab(client: Client, browser: BrowserState, clock: Clock): Turn {
  return loaded(client, withTabs(client, browser, 'close-tab'), clock);
}

/**
 * Opens the page in front in one more tab, as its script does by `window.open`: the storage of the tab is copied
 * (https://html.spec.whatwg.org/multipage/document-sequences.html#creating-a-new-auxiliary-browsing-context).
 */
export function duplicateTab(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { page, tokens } = browser.tab;
  const opened = withTabs(client, browser, 'new-tab');
  const copied = client.tokens?.kept === 'tab' && tokens !== null ? withTab(opened, { tokens }) : opened;
  return page === null
    ? done(copied)
    : open(client, copied, page.address.origin + targetOf(page.address), clock, { byScript: true });
}

/**
 * Closes the browser and starts it with what it had: its tabs with their storage and history, and all cookies, also those of
 * the session (RFC 6265bis §8.6 leaves that to the browser). The page in front is loaded, the others once they come to the front.
 */
export function restored(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { cookies, tab, behind, client: address } = browser;
  const unloaded = (each: Tab): Tab => {
    const { page, history, tokens } = withoutFrozen(each);
    return {
      page: null,
      history: page === null ? history : { page, before: history, sameDocument: false, leftAt: null },
      tokens: client.tokens?.kept === 'page' ? null : tokens,
    };
  };
  return loaded(
    client,
    { cookies, tab: unloaded(tab), behind: behind.map(unloaded), client: address },
    clock,
  );
}

/**
 * Loads the page of a tab that was restored and shows nothing yet: from the browser's own copy, or by asking for it as it was
 * asked for. Chromium loads none that a form had brought.
 */
function loaded(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { page, history } = browser.tab;
  if (page !== null || history === null || !isSafe(history.page.method)) return done(browser);
  const entry = history.page;
  const shown = withTab(browser, { page: entry, history: history.before });
  if (!entry.kept) return again(client, shown, entry, clock, entry.crossSite);
  return entry.script === null ? done(shown) : runScript(client, shown, entry.script, 0, clock);
}

/** Drops the cookies of a name, or all. */
export function withoutCookies(browser: BrowserState, name: string | null): BrowserState {
  const cookies = name === null ? [] : browser.cookies.filter((cookie) => cookie.name !== name);
  const left = cookies.length === browser.cookies.length ? browser : thawed(browser, 'all');
  return { ...left, cookies };
}

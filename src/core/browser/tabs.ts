import type { Clock } from '../clock.js';
import type { Client } from './client.js';
import { done, go, withTab } from './navigation.js';
import { NEW_BROWSER, type BrowserState, type ShownPage, type Tab, type Turn } from './state.js';

const NEW_TAB: Tab = NEW_BROWSER.tab;

/** Asks for a page once more; it takes its own place in the history. */
export function again(client: Client, browser: BrowserState, page: ShownPage, clock: Clock): Turn {
  const purpose = { kind: 'navigate', fill: null, again: true } as const;
  const left = withoutPageMemory(client, browser);
  return go(client, left, { method: page.method, to: page.address, purpose }, clock);
}

/** The back button: the page before is shown as it was kept, or asked for again where it must not be. */
export function goBack(client: Client, browser: BrowserState, clock: Clock): Turn {
  const { history } = browser.tab;
  if (history === null) return done(browser);
  const before = withTab(withoutPageMemory(client, browser), { page: history.page, history: history.before });
  return history.page.kept ? done(before) : again(client, before, history.page, clock);
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

/** Drops the cookies of a name, or all. */
export function withoutCookies(browser: BrowserState, name: string | null): BrowserState {
  const cookies = name === null ? [] : browser.cookies.filter((cookie) => cookie.name !== name);
  return { ...browser, cookies };
}

import type { Instant } from '../clock.js';
import type { Address } from '../http/address.js';
import type { HttpRequest, Method } from '../http/messages.js';
import type { Seconds } from '../language/duration.js';
import type { CookieJar } from './cookie-jar.js';

/** All that one browser holds. */
export interface BrowserState {
  readonly cookies: CookieJar;
  readonly tab: Tab;
}

export interface Tab {
  /** What it shows; null before the first page. */
  readonly page: ShownPage | null;
  /** The tokens in the tab's storage. */
  readonly tokens: HeldTokens | null;
}

export interface ShownPage {
  readonly address: Address;
  readonly method: Method;
  readonly status: number;
}

export interface HeldTokens {
  readonly access: string;
  readonly refresh: string | null;
  readonly receivedAt: Instant;
  readonly expiresIn: Seconds;
}

/** A browser that nobody has used yet, as a private window is. */
export const NEW_BROWSER: BrowserState = { cookies: [], tab: { page: null, tokens: null } };

/** What a person does with a browser. */
export type Deed =
  | { readonly deed: 'open'; readonly address: string }
  | { readonly deed: 'reload' }
  | { readonly deed: 'submit'; readonly method: Method; readonly address: string }
  /** Something on the current page that makes its script call the app. */
  | { readonly deed: 'call'; readonly method: Method; readonly address: string }
  | { readonly deed: 'log-in'; readonly account: string; readonly password: string }
  | { readonly deed: 'log-out' };

/** A request under way, and what is to become of its response. */
export interface Flight {
  readonly request: HttpRequest;
  readonly purpose: Purpose;
  /** The redirects followed so far. */
  readonly redirects: number;
}

export type Purpose =
  /** A page is to be shown. `fill` is the login form to fill in once it is there. */
  | { readonly kind: 'navigate'; readonly fill: Fill | null }
  /** The login form, sent by script. */
  | { readonly kind: 'login' }
  | { readonly kind: 'call'; readonly call: Call }
  /** New tokens are fetched for a call that waits. */
  | { readonly kind: 'refresh'; readonly call: Call };

export interface Fill {
  readonly account: string;
  readonly password: string;
}

export interface Call {
  readonly method: Method;
  readonly address: Address;
  /** Whether it has had its one refresh. */
  readonly refreshed: boolean;
}

/** What a browser has become and does next. */
export interface Turn {
  readonly browser: BrowserState;
  /** The request to answer now; null when the deed is done. */
  readonly flight: Flight | null;
  /** Why the way ended before a response came that could be shown. */
  readonly cutShort: 'redirect-loop' | 'off-origin' | null;
  /** Cookies of the last response that the browser would not keep. */
  readonly refusedCookies: readonly string[];
}

import type { Reason } from '../app/reasons.js';
import type { Instant } from '../time/clock.js';
import type { Address } from '../http/address.js';
import { SOME_CLIENT } from '../http/client-address.js';
import type { Body, HttpRequest, Method } from '../http/messages.js';
import type { Seconds } from '../time/duration.js';
import type { FormName } from '../http/messages.js';
import type { CookieJar } from './cookie-jar.js';

/** All that one browser holds. */
export interface BrowserState {
  readonly cookies: CookieJar;
  /** The tab in front. */
  readonly tab: Tab;
  /** The tabs behind it, the last one on top. */
  readonly behind: readonly Tab[];
  /** The network address that it speaks from. */
  readonly client: string;
}

export interface Tab {
  /** What it shows; null before the first page. */
  readonly page: ShownPage | null;
  /** The tokens in its storage, or in that of the whole browser. */
  readonly tokens: HeldTokens | null;
  /** The pages before this one, the latest first; null for none. */
  readonly history: History | null;
}

export interface History {
  readonly page: ShownPage;
  readonly before: History | null;
  /** Whether script went on from it within one document, and so judges again on the way back. */
  readonly sameDocument: boolean;
  /** When it was left; null where that may have been at any time. */
  readonly leftAt: Instant | null;
}

export interface ShownPage {
  readonly address: Address;
  readonly method: Method;
  readonly status: number;
  /** The addresses of the links in its menu. */
  readonly menu: readonly string[];
  /** The names of its parts that it shows. */
  readonly parts: readonly string[];
  /** The account whose page it is; null for a guest's. */
  readonly reader: string | null;
  /** Whether the browser may show it again without asking. */
  readonly kept: boolean;
  /** Whether the browser can bring it back as it was left, whatever it was told to store: until a cookie changes. */
  readonly frozen: boolean;
  /** The fields with which it was asked for, which a reload sends again. */
  readonly sent: ReadonlyMap<string, string>;
  /** Whether another site had it shown, which the reload button remembers. */
  readonly crossSite: boolean;
  /** The form that it shows again since it was refused; null for any other page. */
  readonly again: FormName | null;
  /** What forms sent from it carry: its own token, or that of the last page in the tab that had one. */
  readonly token: string | null;
  /** What its script goes by, where that keeps people out; null elsewhere. */
  readonly script: ScriptedPage | null;
  /** Where its script sends those whom it, or one of its requests, refuses; null: as everywhere. */
  readonly refusals: PageBody['refusals'];
}

/** What the script of a page goes by. */
export type ScriptedPage = Pick<PageBody, 'guard' | 'loads'>;

export type PageBody = Extract<Body, { kind: 'page' }>;

export interface HeldTokens {
  readonly access: string;
  readonly refresh: string | null;
  readonly receivedAt: Instant;
  readonly expiresIn: Seconds;
  /** What script reads inside the access token. */
  readonly claims: Claims;
}

/** What an access token says of its holder. */
export interface Claims {
  readonly account: string;
  readonly roles: ReadonlySet<string>;
  readonly secondFactor: boolean;
}

/** A browser that nobody has used yet, as a private window is. */
export const NEW_BROWSER: BrowserState = {
  cookies: [],
  tab: { page: null, tokens: null, history: null },
  behind: [],
  client: SOME_CLIENT,
};

/** What a person does with a browser. */
export type Deed =
  /** An address typed, or a link followed that may stand on another site. */
  | {
      readonly deed: 'open';
      readonly address: string;
      /** The origin of the page where it stands, where that is none of the app. */
      readonly from?: string;
      /** Whether it is a link of the page in front. */
      readonly isLink?: boolean;
    }
  | { readonly deed: 'reload' }
  /** So many pages back. */
  | { readonly deed: 'back'; readonly pages: number }
  | { readonly deed: 'new-tab' | 'close-tab' | 'duplicate-tab' }
  | { readonly deed: 'close-browser' | 'open-browser' | 'restore-browser' }
  /** Drops one cookie, or all of them where none is named. */
  | { readonly deed: 'clear-cookies'; readonly name: string | null }
  /** A form sent, which may stand on a page of another site. */
  | {
      readonly deed: 'submit';
      readonly method: Method;
      readonly address: string;
      /** The origin of the page where it stands, where that is none of the app. */
      readonly from?: string;
    }
  /** Something on the current page that makes its script call the app. */
  | { readonly deed: 'call'; readonly method: Method; readonly address: string }
  /** Fills in a form, at its page or after going there; or one like it that stands on another site. */
  | { readonly deed: 'fill-in'; readonly fill: Fill; readonly from?: string }
  /** The refresh token sent for new ones, by script or by whoever has it. */
  | { readonly deed: 'refresh' }
  | { readonly deed: 'log-out' };

/** A request under way, and what is to become of its response. */
export interface Flight {
  readonly request: HttpRequest;
  readonly purpose: Purpose;
  /** The times that the visitor was sent on so far. */
  readonly redirects: number;
  /** Whether another site started the chain of redirects that it belongs to. */
  readonly crossSite: boolean;
}

export type Purpose =
  /**
   * A page is to be shown. `fill` is the form to fill in once it is there; `again` is a page that takes its own place; `byScript`
   * one that script, or a link or form of the page before, went to.
   */
  | {
      readonly kind: 'navigate';
      readonly fill: Fill | null;
      readonly again?: boolean;
      readonly byScript?: boolean;
    }
  /** A form sent by script, which goes on from what comes back, or to an address where that says nothing. */
  | { readonly kind: 'login'; readonly otherwise?: string }
  | { readonly kind: 'call'; readonly call: Call }
  /** New tokens are fetched for a call that waits. */
  /** New tokens are got, for a call that is made again with them, or for nothing else. */
  | { readonly kind: 'refresh'; readonly call: Call | null };

export interface Fill {
  readonly form: FormName;
  /** The address of the form where that is not always the same: it is sent there too. */
  readonly at?: string;
  readonly fields: ReadonlyMap<string, string>;
}

export interface Call {
  readonly method: Method;
  readonly address: Address;
  /** Whether it has had its one refresh. */
  readonly refreshed: boolean;
  /** Whether it belongs to a page that is being shown; then the requests that are still to come after it, else null. */
  readonly loads: readonly Load[] | null;
}

/** A request that a page makes once it is shown. */
export interface Load {
  readonly method: Method;
  readonly path: string;
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
  /** Why script in a page turned the visitor away; null where it did not. */
  readonly refusedByScript: Reason | null;
}

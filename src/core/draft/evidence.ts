import type { SetCookie } from '../http/cookies.js';
import type { Method } from '../http/messages.js';

/** One request of a recording, with its answer. Secrets are still in it: nothing of it is written down as it is. */
export interface Exchange {
  /** Seconds since the recording began. */
  readonly at: number;
  readonly method: string;
  readonly origin: string;
  readonly path: string;
  /** Without its question mark; empty for none. */
  readonly query: string;
  /** The address of the page that made the request, as far as its Referer says; null for none. */
  readonly referer: string | null;
  readonly cookies: ReadonlyMap<string, string>;
  /** The bearer token that was sent (RFC 6750 §2.1); null for none. */
  readonly bearer: string | null;
  readonly sends: 'form' | 'json' | 'other' | null;
  /** What the body sent, by field; of JSON, by the names of its members, those of inner ones joined by slashes. */
  readonly fields: readonly (readonly [name: string, value: string])[];
  readonly status: number;
  /** Where it was sent on, as a whole address; null for nowhere. */
  readonly location: string | null;
  readonly setCookies: readonly SetCookie[];
  /** The type of the answer in lower case, without parameters; empty where it says none. */
  readonly type: string;
  /** null where the recording has none. */
  readonly body: string | null;
  /** Octets of the body; null where the recording does not say. */
  readonly size: number | null;
  /** The whole address to which script had gone once the page was at rest; null where nobody looked. */
  readonly landed: string | null;
  /** Whether a browser asked for it to show it as a page. */
  readonly isDocument: boolean;
}

/** What somebody's browser asked and was answered, in order. */
export interface Recording {
  /** The account whose recording it is; null: nobody logs in in it. */
  readonly person: string | null;
  /** Where it comes from, for people. */
  readonly from: string;
  readonly exchanges: readonly Exchange[];
  /** How long the tokens in it are good by what they say themselves (RFC 7519 §4.1.4), in seconds. */
  readonly lives: ReadonlyMap<string, number>;
  /** Whether it was made in the place of a proxy that ends TLS, since plain http was sent to https. */
  readonly isBehindProxy: boolean;
  /** Whether cookies were cut out of it before it was saved. */
  readonly isWithoutCookies: boolean;
}

/** Who may make a request, as a description says. */
export type DescribedAccess =
  | 'everyone'
  | 'signed-in'
  /** Whoever holds all scopes of one of these lists. */
  | { readonly scopes: readonly (readonly string[])[] };

/** A request that a description or a list names. */
export interface DescribedRequest {
  /** A pattern of the language. */
  readonly pattern: string;
  readonly method: Method;
  readonly kind: 'page' | 'api';
  /** null where the source does not say. */
  readonly access: DescribedAccess | null;
  /** The status of what it answers; null where the source does not say. */
  readonly status: number | null;
  /** Why what is said of it is only a guess; null where it is none. */
  readonly guess: string | null;
  /** Whether its body has a password, as far as the source says. */
  readonly takesPassword: boolean;
}

/** How callers show who they are, as a description says. */
export type DescribedScheme =
  | { readonly kind: 'key'; readonly sent: 'bearer' | 'header' | 'address'; readonly name: string | null }
  | { readonly kind: 'cookie'; readonly name: string }
  | { readonly kind: 'tokens'; readonly submit: string | null; readonly refresh: string | null };

/** What a description, a list or a sitemap says. */
export interface Description {
  readonly from: string;
  readonly app: string | null;
  readonly origin: string | null;
  readonly requests: readonly DescribedRequest[];
  readonly schemes: readonly DescribedScheme[];
  /** What could not be taken from it. */
  readonly notes: readonly string[];
}

/** All that a policy is drafted from. */
export interface Evidence {
  readonly recordings: readonly Recording[];
  readonly descriptions: readonly Description[];
}

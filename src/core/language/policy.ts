import type { Method } from '../http/messages.js';
import type { Pattern } from '../paths/pattern.js';
import type { Seconds } from './duration.js';
import type { Path } from './yaml-text.js';

/** Something that stands at a place of the policy, which a report can point at. */
export interface Placed {
  readonly at: Path;
}

/** A policy with every name resolved and every default filled in: what the app half does. */
export interface Policy {
  readonly app: string;
  /** Scheme, host and port, as the URL standard writes an origin. */
  readonly origin: string;
  readonly roles: ReadonlyMap<string, Role>;
  readonly accounts: ReadonlyMap<string, Account>;
  readonly pages: readonly Page[];
  readonly rules: readonly Rule[];
  readonly otherwise: Audience;
  readonly refusals: { readonly page: Refusals; readonly api: Refusals };
  readonly login: Login | null;
  readonly landing: readonly LandingEntry[];
  readonly logout: Logout | null;
  readonly session: SessionRules;
  readonly tokens: TokenRules | null;
  readonly accepted: readonly Accepted[];
}

/** A finding of a check that the owner knows and keeps. */
export interface Accepted extends Placed {
  readonly check: string;
  readonly because: string;
}

/** A role; `holds` has the role itself and, through them all, the roles it includes. */
export interface Role extends Placed {
  readonly name: string;
  readonly includes: readonly string[];
  readonly holds: ReadonlySet<string>;
}

/** A made-up person. */
export interface Account extends Placed {
  readonly name: string;
  readonly password: string;
  readonly given: readonly string[];
  /** The given roles with all they include. */
  readonly roles: ReadonlySet<string>;
  readonly state: AccountState;
}

export const ACCOUNT_STATES = ['active', 'suspended', 'unconfirmed'] as const;
export type AccountState = (typeof ACCOUNT_STATES)[number];

/** Who may come in. `some` admits signed-in visitors for whom each of the conditions that are present holds. */
export type Audience =
  | { readonly who: 'everyone' | 'guests' | 'signed-in' }
  | {
      readonly who: 'some';
      /** Any of these roles; null when it does not matter. */
      readonly any: readonly string[] | null;
      readonly all: readonly string[];
      readonly none: readonly string[];
      /** The path parameter that must name the visitor's own account. */
      readonly account: string | null;
    };

/** Requests read (HEAD, GET, OPTIONS) or write (all others). */
export type Operation = 'read' | 'write';

/** The audiences that a page or rule states itself; null where it leaves the word to what follows. */
export type StatedAudiences = Readonly<
  Record<Operation, { readonly audience: Audience; readonly at: Path } | null>
>;

/** How a refusal is given and a request made: a page for people, or an api for script. */
export type Kind = 'page' | 'api';

export interface Page extends Placed {
  readonly pattern: Pattern;
  readonly audiences: StatedAudiences;
  readonly kind: Kind | null;
}

export interface Rule extends Placed {
  /** Its place among the rules, from 1. */
  readonly number: number;
  readonly patterns: readonly Pattern[];
  readonly audiences: StatedAudiences;
  readonly kind: Kind | null;
}

/** What somebody gets at a page that is not for them. */
export type Refusal =
  | { readonly to: 'login' | 'landing' }
  | { readonly to: 'path'; readonly path: string }
  | { readonly to: 'status'; readonly status: number };

/** The refusals of one kind, by who is refused; `unknown` is a status. */
export interface Refusals {
  readonly guest: Refusal;
  readonly guestsOnly: Refusal;
  readonly role: Refusal;
  readonly unknown: Refusal;
}

/** A request that the app has an endpoint of its own for. */
export interface Endpoint extends Placed {
  readonly method: Method;
  readonly path: string;
}

export interface Login extends Placed {
  readonly page: string;
  readonly submit: Endpoint;
  /** Where a refused attempt lands: a path, perhaps with a query. */
  readonly wrong: string;
  readonly by: 'session' | 'tokens' | 'both';
  readonly return: ReturnRules | null;
}

/** How a login treats the address that the visitor asked for first. */
export interface ReturnRules extends Placed {
  readonly param: string;
  readonly accept:
    'same-origin' | 'leading-slash' | 'anything' | 'never' | { readonly listed: readonly Pattern[] };
  readonly onlyIfAllowed: boolean;
}

/** Where a role lands; `role` null takes whoever is left. */
export interface LandingEntry extends Placed {
  readonly role: readonly string[] | null;
  readonly to: string;
}

export const CREDENTIALS = ['session', 'access', 'refresh'] as const;
/** What a login can hand out. */
export type Credential = (typeof CREDENTIALS)[number];

export interface Logout extends Placed {
  readonly submits: readonly Endpoint[];
  readonly lands: string;
  readonly clears: ReadonlySet<Credential>;
  readonly ends: ReadonlySet<Credential>;
}

export interface SessionRules extends Placed {
  readonly idle: Seconds | null;
  readonly absolute: Seconds | null;
  readonly renews: 'each-request' | 'past-half' | 'never';
  readonly cookie: CookieRules;
}

export interface CookieRules {
  readonly name: string;
  readonly secure: boolean;
  readonly httpOnly: boolean;
  readonly sameSite: 'lax' | 'strict' | 'none';
  /** null: until the browser closes. */
  readonly life: Seconds | null;
}

export interface TokenRules extends Placed {
  readonly access: { readonly life: Seconds; readonly leeway: Seconds };
  readonly refresh: { readonly life: Seconds; readonly rotates: boolean } | null;
  readonly submit: Endpoint;
  /** refused: on a 401; a number: so many seconds before the access token expires. */
  readonly refreshWhen: 'refused' | 'never' | Seconds;
  /** Where a visitor lands whose refresh failed: `login` or a path. */
  readonly failedRefresh: string;
}

import type { ClientNetwork } from '../http/client-address.js';
import type { CookieRules } from '../http/cookies.js';
import type { LoginForm, Method } from '../http/messages.js';
import type { PathRules } from '../paths/path-rules.js';
import type { Pattern } from '../paths/pattern.js';
import type { RegularLanguage } from '../paths/automaton.js';
import type { Seconds } from '../time/duration.js';
import type { AskedFacts, Audience, Facts } from '../vocabulary/audience.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import type { ApiKeyRules } from './api-keys.js';
import type { IdentityProvider } from './identity-provider.js';
import type { Impersonation } from './impersonation.js';
import type { Endpoint, Placed } from './text/placed.js';
import type { AllRefusals, OwnRefusals } from './refusals.js';
import type { SessionRules } from './session-options.js';
import type { AccountState } from '../vocabulary/account-states.js';
import type { Role } from './roles-and-flags.js';
export type { Role } from './roles-and-flags.js';
export type { Endpoint, Placed } from './text/placed.js';
export type { ApiKeyRules } from './api-keys.js';
export type { IdentityProvider } from './identity-provider.js';
export type { Impersonation } from './impersonation.js';

/** A policy with every name resolved and every default filled in: what the app half does. */
export interface Policy {
  readonly app: string;
  /** Scheme, host and port, as the URL standard writes an origin. */
  readonly origin: string;
  /** Further hosts at which the app answers, without port and in lower case. */
  readonly hosts: readonly string[];
  readonly roles: ReadonlyMap<string, Role>;
  readonly accounts: ReadonlyMap<string, Account>;
  /** The switches of the app as a whole, and how they stand at first. */
  readonly flags: ReadonlyMap<string, boolean>;
  readonly pages: readonly Page[];
  readonly rules: readonly Rule[];
  readonly otherwise: Audience;
  readonly barriers: readonly Barrier[];
  readonly refusals: AllRefusals;
  /** Where people log in who are sent to no other login; null where nobody can. */
  readonly login: Login | null;
  /** Every login, that one first. */
  readonly logins: readonly Login[];
  readonly landing: readonly LandingEntry[];
  readonly signUp: SignUp | null;
  readonly confirm: Confirm | null;
  readonly secondFactor: SecondFactor | null;
  readonly password: PasswordRules | null;
  readonly linkLogin: LinkLogin | null;
  readonly providers: readonly IdentityProvider[];
  readonly apiKeys: ApiKeyRules | null;
  readonly impersonation: Impersonation | null;
  readonly logout: Logout | null;
  readonly session: SessionRules;
  readonly remember: Remember | null;
  readonly tokens: TokenRules | null;
  readonly csrf: Csrf | null;
  readonly routing: Routing;
  readonly proxy: Proxy | null;
  readonly backButton: BackButton;
  readonly menu: readonly MenuLink[];
  readonly promises: readonly PolicyPromise[];
  readonly accepted: readonly Accepted[];
}

/**
 * What must hold however people navigate: only some roles reach pages, something is over after a time, or whoever is signed
 * in can come to a page soon.
 */
export interface PolicyPromise extends Placed {
  /** The roles that alone reach the pages of `reach`; null for a promise about time. */
  readonly only: readonly string[] | null;
  readonly reach: readonly Pattern[];
  readonly after: PromiseEvent | null;
  /** The copied credential that works no longer than that; null: the person's own access lasts no longer. */
  readonly copied: Credential | null;
  readonly atMost: Seconds | null;
  /** In how many steps whoever is signed in can come to one of the pages of `reach`; null for other promises. */
  readonly withinSteps: number | null;
}

/** A finding of a check that the owner knows and keeps. */
export interface Accepted extends Placed {
  readonly check: string;
  readonly because: string;
}

/** A made-up person, or a machine. */
export interface Account extends Placed {
  readonly name: string;
  /** Empty for a machine, which nobody logs in to. */
  readonly password: string;
  /** Whether it is a machine's, which is known by a key. */
  readonly key: boolean;
  readonly given: readonly string[];
  /** The given roles with all they include. */
  readonly roles: ReadonlySet<string>;
  readonly facts: Facts;
  /** Whether it owes a one-time code: always, or since it holds a role that does. */
  readonly secondFactor: boolean;
  /** Whether it owes one whatever roles it holds. */
  readonly alwaysOwesCode: boolean;
  readonly state: AccountState;
  /** How long before a walk starts it was made; null: so long ago that nothing asks for it any more. */
  readonly joined: Seconds | null;
}

/** Requests read (HEAD, GET, OPTIONS) or write (all others). */
export type Operation = 'read' | 'write';

/** An audience and the place that states it. */
export interface StatedAudience extends Placed {
  readonly audience: Audience;
}

/** The audiences that a page or rule states itself; null where it leaves the word to what follows. */
export interface StatedAudiences extends Readonly<Record<Operation, StatedAudience | null>> {
  /** Methods with an audience of their own, which goes before `read` and `write`. */
  readonly methods: ReadonlyMap<Method, StatedAudience>;
}

/** How a refusal is given and a request made: a page for people, or an api for script. */
export type Kind = 'page' | 'api';

/** What a page or a rule says of how it is shown and refused; null where it leaves that to what follows. */
export interface ShownHow {
  /** Who keeps people out: the app, or script in a page that the app gives to anybody. */
  readonly guard: 'server' | 'browser' | null;
  /** What it says itself of being kept for the back button. */
  readonly cache: BackButton | null;
  readonly refusals: OwnRefusals | null;
}

export interface Page extends Placed, ShownHow {
  readonly pattern: Pattern;
  readonly audiences: StatedAudiences;
  readonly kind: Kind | null;
  readonly forward: Forward | null;
  /** Requests made by script once the page is shown. */
  readonly loads: readonly Endpoint[];
  /** The methods that it answers; null for all. */
  readonly answers: readonly Method[] | null;
  readonly afterWrite: AfterWrite;
  readonly parts: readonly Part[];
  /** The facts that a write which it serves gives its visitor; null for none. */
  readonly sets: Facts | null;
}

/** Something of a page that only some of its readers see. */
export interface Part extends Placed {
  readonly name: string;
  readonly text: string;
  readonly audience: StatedAudience;
  /** The request that it sends, with the parameters of the page's path put in; null for none. */
  readonly sends: Endpoint | null;
}

/** What a page answers to a write that it served. */
export interface AfterWrite {
  /** Where it sends the visitor, with the parameters of its own path put in; null: it is shown where it is. */
  readonly to: string | null;
  readonly status: number;
}

/** Whether a browser may show a protected page again without asking. */
export type BackButton = 'no-store' | 'cached';

/** Where a page sends those who may see it. */
export interface Forward extends Placed {
  /** null: by the policy's own landing entries. */
  readonly entries: readonly LandingEntry[] | null;
  /** Whether the page is shown to those for whom no entry is. */
  readonly stay: boolean;
}

export interface Rule extends Placed, ShownHow {
  /** Its place among the rules, from 1. */
  readonly number: number;
  readonly patterns: readonly Pattern[];
  /** A regular expression on the path, for rules that are written so. */
  readonly expression: { readonly source: string; readonly language: RegularLanguage } | null;
  readonly conditions: Conditions;
  readonly audiences: StatedAudiences;
  readonly kind: Kind | null;
  /** Whether plain http is sent to the same address on https. */
  readonly onlyHttps: boolean;
}

/** What comes before everything else: whom it stops gets nothing but what it lets through. */
export interface Barrier extends Placed {
  readonly name: string;
  readonly stops: StatedAudience;
  /** The status with which it answers; null: it sends people to a page. */
  readonly answers: number | null;
  readonly sends: string | null;
  /** The status at addresses of an api; null: those are not stopped. */
  readonly api: number | null;
  readonly lets: readonly Pattern[];
  /** The ways in that it stops as well. */
  readonly also: ReadonlySet<'login' | 'sign-up'>;
  /** Whether people get where they were going once they have passed. */
  readonly returns: boolean;
}

/** What a rule asks of a request besides its path; null where it does not matter. */
export interface Conditions {
  readonly methods: readonly Method[] | null;
  /** Host names without port, in lower case. */
  readonly hosts: readonly string[] | null;
  readonly from: readonly ClientNetwork[] | null;
}

export interface Login extends Placed {
  /** What it is called among several; null for the only one. */
  readonly name: string | null;
  readonly form: LoginForm;
  readonly page: string;
  readonly submit: Endpoint;
  /** Where a refused attempt lands: a path, perhaps with a query. */
  readonly wrong: string;
  readonly shownAgain: ShownAgain | null;
  readonly by: 'session' | 'tokens' | 'both';
  /** Whether an account with several roles picks one, and holds only that until the logout. */
  readonly asRole: boolean;
  readonly renewSessionId: boolean;
  readonly return: ReturnRules | null;
  readonly attempts: Attempts | null;
  /** The roles of which an account holds one that it takes; null for all accounts. */
  readonly takes: readonly string[] | null;
  /** Where it lands people; goes before the policy's landing. */
  readonly landing: readonly LandingEntry[];
  /** The names of the form's fields as they go over the wire. */
  readonly fields: { readonly account: string; readonly password: string };
}

/** That the answer to a refused form shows the form again, without a redirect. */
export interface ShownAgain {
  readonly status: number;
}

/** So many wrong passwords within a time, and an account lets nobody in for a pause. */
export interface Attempts extends Placed {
  readonly most: number;
  readonly within: Seconds;
  readonly pause: Seconds;
}

/** How a login treats the address that the visitor asked for first. */
export interface ReturnRules extends Placed {
  readonly param: string;
  readonly accept:
    | 'same-origin'
    | 'one-slash'
    | 'leading-slash'
    | 'anything'
    | 'never'
    | { readonly listed: readonly Pattern[] };
  readonly onlyIfAllowed: boolean;
  /** Where the address waits for the login: in that of the form, or in the session of the guest. */
  readonly kept: 'address' | 'session';
  /** Whether a login that renews the session takes what was kept in it along. */
  readonly carriedOver: boolean;
  /** Whether only reads are taken up again, or what was sent as well. */
  readonly of: 'reads' | 'everything';
}

/** Where somebody lands: who holds one of the roles, or has the facts, or left the page; all null takes whoever is left. */
export interface LandingEntry extends Placed {
  readonly role: readonly string[] | null;
  readonly facts: AskedFacts | null;
  /** The page that was left, for a logout. */
  readonly leaving: Pattern | null;
  readonly to: string;
}

export interface SignUp extends Placed {
  readonly page: string;
  readonly submit: Endpoint;
  readonly given: readonly string[];
  readonly roles: ReadonlySet<string>;
  /** What comes of it: signed in at once, a confirmation first, or no more than the account. */
  readonly then: 'login' | 'confirm' | 'nothing';
  readonly lands: 'landing' | { readonly path: string };
  readonly shownAgain: ShownAgain | null;
}

/** A link that is sent to somebody, whose last parameter is its secret. */
export interface LinkRules extends Placed {
  readonly pattern: Pattern;
  readonly life: Seconds;
}

/** The confirmation of a new account by a link. */
export type Confirm = LinkRules;

/** How passwords are changed. */
export interface PasswordRules extends Placed {
  readonly change: PasswordChange | null;
  readonly reset: PasswordReset | null;
  /** What a changed password ends of everybody else who holds it: links are those for a new password, and to log in by. */
  readonly ends: ReadonlySet<Credential | 'links'>;
  /** What becomes of the session, and the tokens, with which it was changed. */
  readonly own: 'renews' | 'keeps' | 'ends';
}

/** Whoever is signed in chooses another password. */
export interface PasswordChange extends Placed {
  readonly page: string;
  readonly submit: Endpoint;
  readonly asksOld: boolean;
  readonly lands: string;
}

/** A form that has a link sent to somebody. */
export interface LinkForm extends Placed {
  readonly page: string;
  readonly submit: Endpoint;
  /** Where whoever has asked lands. */
  readonly lands: string;
  readonly link: LinkRules;
  /** Whether the link does for the one-time code of the login. */
  readonly code: 'asked' | 'given';
  /** Whether the answer tells if there is an account of the name. */
  readonly tells: boolean;
}

/** Whoever has forgotten their password chooses another by a link. */
export interface PasswordReset extends LinkForm {
  readonly then: 'login' | 'signed-in';
}

/** People log in by a link, without a password. */
export interface LinkLogin extends LinkForm {
  /** Whether the link is good only in the browser that asked for it. */
  readonly sameBrowser: boolean;
}

/** The one-time code that some accounts and pages ask for. */
export interface SecondFactor extends Placed {
  readonly page: string;
  readonly submit: Endpoint;
  readonly life: Seconds;
  readonly tries: number;
  readonly asked: 'at-login' | 'at-page';
  /** The roles of which whoever holds one owes the code. */
  readonly of: readonly string[];
  readonly shownAgain: ShownAgain | null;
}

export interface Logout extends Placed {
  readonly submits: readonly Endpoint[];
  readonly lands: readonly LandingEntry[];
  readonly clears: ReadonlySet<Credential>;
  readonly ends: ReadonlySet<Credential>;
  /** Whose of that ends: what the browser shows, all that goes back to the same login, or all of the account besides. */
  readonly of: 'shown' | 'login' | 'account';
  /** What a logout by script is answered with. */
  readonly status: number;
}

export interface TokenRules extends Placed {
  readonly access: { readonly life: Seconds; readonly leeway: Seconds };
  readonly refresh: RefreshRules | null;
  /** Whether a token's roles are those of its issue, or the account's at each request. */
  readonly roles: 'in-token' | 'each-request';
  /** Where the browser keeps them: what script can read, or cookies that it cannot. */
  readonly kept: 'page' | 'tab' | 'browser' | 'cookie';
  readonly submit: Endpoint;
  readonly revoke: Endpoint | null;
  /** refused: on a 401; a number: so many seconds before the access token expires. */
  readonly refreshWhen: 'refused' | 'never' | Seconds;
  /**
   * Whether requests in flight together wait for one refresh: those of all tabs, those of one tab, or none. `until-settled`: those
   * of one tab, as long as it is under way; a refusal that comes back later starts another, whatever the token is by then.
   */
  readonly sharedRefresh: boolean | 'in-tab' | 'until-settled';
  /** Where a visitor lands whose refresh failed: `login` or a path. */
  readonly failedRefresh: string;
  /** The status of a refused refresh. */
  readonly refused: number;
}

export interface RefreshRules {
  readonly life: Seconds;
  readonly rotates: boolean;
  /** How long one login lasts at most, however often its token is changed. */
  readonly longest: Seconds | null;
  /** What a token that was already changed for another does when it is shown again. */
  readonly reuse: 'end-family' | 'refuse' | 'accept';
  /** How long a token that was changed still gets the same answer. */
  readonly grace: Seconds;
}

/** How a visitor is known again after the session is over. */
export interface Remember extends Placed {
  readonly life: Seconds;
  /** Whether the token is changed for another at each use. */
  readonly rotates: boolean;
  /** What becomes of one that was changed and comes again: it ends all of its series, or is refused. */
  readonly reuse: 'end-series' | 'refuse';
  /** What coming back by it is worth: whether the code of a login counts as given, and the login as a fresh one. */
  readonly countsAs: { readonly code: 'asked' | 'given'; readonly fresh: boolean };
  readonly cookie: Omit<CookieRules, 'life'>;
}

/** How the app tells forms of its own from those of other sites (CWE-352). */
export interface Csrf extends Placed {
  /** Whose token a form carries: that of its session, one that is good once, or none. */
  readonly token: 'per-session' | 'per-request' | 'absent';
  readonly field: string;
  /** The status of a form that is refused. */
  readonly refused: number;
  /** Whether it is asked for before anybody's right to the page is. */
  readonly order: 'before-guard' | 'after-guard';
  /** Whether the Origin header is compared (RFC 6454 §7). */
  readonly checksOrigin: boolean;
}

/** How the app reads the path of a request before it compares it with anything. */
export interface Routing extends Placed, PathRules {}

/** A proxy in front of the app. One that is not trusted leaves the app believing that it speaks plain http. */
export interface Proxy extends Placed {
  readonly endsTls: boolean;
  readonly trusted: boolean;
}

/** A link that pages show. */
export interface MenuLink extends Placed {
  readonly to: string;
  readonly text: string;
  /** null: shown to those who may see the page it leads to. */
  readonly audience: StatedAudience | null;
}

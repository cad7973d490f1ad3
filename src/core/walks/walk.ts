import type { Calling } from './together.js';
import type { Administration } from '../app/administration.js';
import type { Reason } from '../app/reasons.js';
import type { Method } from '../http/messages.js';
import type { Seconds } from '../language/duration.js';
import type { LawName } from '../laws/law-names.js';
import type { Credential } from '../language/policy.js';
import type { Path, YamlText } from '../language/yaml-text.js';

/** A sequence of steps on a virtual clock, with what must be seen after each. */
export interface Walk {
  readonly name: string;
  /** The file that it stands in, and where. */
  readonly input: YamlText;
  readonly at: Path;
  readonly steps: readonly Step[];
  /** The laws that the walk is known to break, at whatever step. */
  readonly expectBroken: readonly LawName[];
}

export interface Step {
  readonly at: Path;
  readonly action: Action;
  /** The browser in which it happens. */
  readonly browser: string;
  /** The network address that the browser speaks from, from this step on; null: as before. */
  readonly connectsFrom: string | null;
  readonly named: string | null;
  readonly expects: Expectations;
  /** The laws that this step is known to break. */
  readonly expectBroken: readonly LawName[];
}

/** What somebody does. */
export type Action =
  /** An address typed; with `from` a link on another site. */
  | { readonly verb: 'visit'; readonly address: string; readonly from: string | null }
  /** Follows a link of the menu, named by its address or its text. */
  | { readonly verb: 'follow'; readonly to: string; readonly link: string }
  | {
      readonly verb: 'send';
      readonly method: Method;
      readonly address: string;
      readonly from: string | null;
    }
  | {
      readonly verb: 'login';
      readonly account: string;
      readonly password: string;
      /** Whether the walk writes the password itself, so that it need not be the account's. */
      readonly passwordGiven: boolean;
      /** Whether it is another than the account has by then, as far as the walk tells. */
      readonly isWrong: boolean;
      /** The role picked of several; null: the form's own choice. */
      readonly role: string | null;
      /** Whether the visitor asks to be known again. */
      readonly remember: boolean;
      /** The site on which the form stands, filled in by somebody else; null for the app's own. */
      readonly from: string | null;
    }
  | { readonly verb: 'code'; readonly given: 'right' | 'wrong' | 'late' }
  | { readonly verb: 'sign-up'; readonly account: string; readonly password: string }
  /** Opens the link that was sent to a new account. */
  | { readonly verb: 'confirm'; readonly account: string }
  /** Calls that script makes at the same time. */
  | { readonly verb: 'together'; readonly calls: readonly Calling[] }
  | { readonly verb: 'logout' }
  /** So many pages back. */
  | { readonly verb: 'back'; readonly pages: number }
  | { readonly verb: 'reload' | 'new-tab' | 'close-tab' | 'close-browser' | 'open-browser' }
  | { readonly verb: 'clear-cookies'; readonly name: string | null }
  /** Somebody else gets hold of what this browser has; it keeps its own. */
  | { readonly verb: 'copy'; readonly what: Credential; readonly to: string }
  /** Puts what this browser has into another, which takes it for its own. */
  | { readonly verb: 'plant'; readonly what: Credential; readonly to: string }
  | Administration
  | { readonly verb: 'wait'; readonly until: Wait };

/** How long a wait lasts: a duration, or up to a deadline of a credential that the browser holds. */
export type Wait =
  | { readonly kind: 'duration'; readonly seconds: Seconds }
  /** past: to the first instant at which it no longer counts. short-of: to the last at which it does. */
  | { readonly kind: 'past' | 'short-of'; readonly deadline: Deadline };

export const DEADLINES = [
  'session-idle',
  'session-absolute',
  'access-expiry',
  'refresh-expiry',
  'code-expiry',
  'attempts-pause',
  'remember-expiry',
] as const;
export type Deadline = (typeof DEADLINES)[number];

/** What must be seen after a step; null where it does not matter. */
export interface Expectations {
  readonly lands: string | null;
  readonly status: number | null;
  /** An account's name or `guest`. */
  readonly seenAs: string | null;
  readonly why: Reason | null;
  /** The addresses that sent the visitor on, in order. */
  readonly via: readonly string[] | null;
  readonly session: 'live' | 'none' | null;
  readonly refreshes: number | null;
  /** Addresses of menu links that the page shows, and that it does not. */
  readonly shows: readonly string[] | null;
  readonly hides: readonly string[] | null;
  /** What the browser has, and has not. */
  readonly holds: readonly Credential[] | null;
  readonly lacks: readonly Credential[] | null;
  /** The paths of all pages that are open to the browser now. */
  readonly reaches: readonly string[] | null;
}

/** For a step that may come out as it likes. */
export const NOTHING_EXPECTED: Expectations = {
  lands: null,
  status: null,
  seenAs: null,
  why: null,
  via: null,
  session: null,
  refreshes: null,
  shows: null,
  hides: null,
  holds: null,
  lacks: null,
  reaches: null,
};

/** A step that does something and expects nothing. */
export function plainStep(browser: string, action: Action): Step {
  return {
    at: [],
    action,
    browser,
    connectsFrom: null,
    named: null,
    expects: NOTHING_EXPECTED,
    expectBroken: [],
  };
}

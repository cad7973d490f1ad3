import type { Reason } from '../app/reasons.js';
import type { Method } from '../http/messages.js';
import type { Seconds } from '../language/duration.js';
import type { Path, YamlText } from '../language/yaml-text.js';

/** A sequence of steps on a virtual clock, with what must be seen after each. */
export interface Walk {
  readonly name: string;
  /** The file that it stands in, and where. */
  readonly input: YamlText;
  readonly at: Path;
  readonly steps: readonly Step[];
}

export interface Step {
  readonly at: Path;
  readonly action: Action;
  /** The browser in which it happens. */
  readonly browser: string;
  readonly named: string | null;
  readonly expects: Expectations;
}

/** What somebody does. */
export type Action =
  | { readonly verb: 'visit'; readonly address: string }
  | { readonly verb: 'send'; readonly method: Method; readonly address: string }
  | {
      readonly verb: 'login';
      readonly account: string;
      readonly password: string;
      /** Whether the walk writes the password itself, so that it need not be the account's. */
      readonly passwordGiven: boolean;
    }
  | { readonly verb: 'logout' }
  | { readonly verb: 'reload' }
  | { readonly verb: 'wait'; readonly until: Wait };

/** How long a wait lasts: a duration, or up to a deadline of a credential that the browser holds. */
export type Wait =
  | { readonly kind: 'duration'; readonly seconds: Seconds }
  /** past: to the first instant at which it no longer counts. short-of: to the last at which it does. */
  | { readonly kind: 'past' | 'short-of'; readonly deadline: Deadline };

export const DEADLINES = ['session-idle', 'session-absolute', 'access-expiry', 'refresh-expiry'] as const;
export type Deadline = (typeof DEADLINES)[number];
/** Deadlines of the language that this version cannot wait for. */
export const LATER_DEADLINES = ['code-expiry', 'remember-expiry', 'attempts-pause'] as const;

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
}

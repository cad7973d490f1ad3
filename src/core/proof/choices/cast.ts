// Step 3 of docs/proof-method.md: what is tried.

/** Who takes part besides one person, and with how much. */
export interface Cast {
  /** The one account of its class that people log in to; null for one of each class. */
  readonly account: string | null;
  /** Whether it is a machine's, so that nobody is at a browser. */
  readonly machine: boolean;
  /** The accounts that it speaks for: the same comes of them, if at other pages. */
  readonly alike: readonly string[];
  /** Browsers of people: 1 or more. */
  readonly browsers: number;
  /** Tabs that a browser may have open at once: 1 or more. */
  readonly tabs: number;
  /** Somebody who gets a copy of one thing that a person's browser holds, at any time and each time in a new browser, once the last is worth nothing. */
  readonly thief: boolean;
  /** Somebody who suspends, deletes and changes one account, and restarts the app, at any time. */
  readonly administrator: boolean;
}

export const PERSON = 'browser';
export const THIEF = 'thief';
/** The account of somebody who signs up, and their password. */
export const NEWCOMER = 'new';

/** The names of the browsers of people. */
export function browsersOf({ browsers }: Cast): readonly string[] {
  return Array.from({ length: browsers }, (_, at) => (at === 0 ? PERSON : `${PERSON}-${at + 1}`));
}

/**
 * Whether it is followed what a form passes on, such as the page that was asked for. Where people log in to one account it is not:
 * that is seen where they log in to every account.
 */
export function followsForms({ account }: Cast): boolean {
  return account === null;
}

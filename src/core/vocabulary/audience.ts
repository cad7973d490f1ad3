import type { Seconds } from '../time/duration.js';

/** Whatever else a rule may ask about an account: each fact has one value or several, compared as text. */
export type Facts = ReadonlyMap<string, readonly string[]>;

/** What a condition asks of one fact: that one of its values is among these, or is what a parameter of the path says. */
export interface AskedFact {
  readonly values: readonly string[];
  readonly parameters: readonly string[];
}
export type AskedFacts = ReadonlyMap<string, AskedFact>;

/** The audiences that are words rather than roles. */
export const AUDIENCE_WORDS = ['everyone', 'guests', 'signed-in', 'nobody'] as const;
export type AudienceWord = (typeof AUDIENCE_WORDS)[number];

/** Who may come in. `some` admits signed-in visitors for whom each of the conditions that are present holds. */
export type Audience = { readonly who: AudienceWord } | SomeVisitors;

/** Whether a text is an audience by itself. */
export function isAudienceWord(text: unknown): text is AudienceWord {
  return AUDIENCE_WORDS.some((word) => word === text);
}

export interface SomeVisitors {
  readonly who: 'some';
  /** Any of these roles; null when it does not matter. */
  readonly any: readonly string[] | null;
  readonly all: readonly string[];
  readonly none: readonly string[];
  readonly facts: AskedFacts;
  /** The path parameter that must name the visitor's own account. */
  readonly account: string | null;
  /** Whether a one-time code must have been given in this session. */
  readonly secondFactor: boolean;
  /** How long ago the login may be at most. */
  readonly loginWithin: Seconds | null;
  /** How switches of the app must stand. */
  readonly flags: ReadonlyMap<string, boolean>;
  /** How long ago the account may have been made at most. */
  readonly joinedWithin: Seconds | null;
}

/** Signed-in visitors of whom nothing more is asked. */
export const ANYBODY: SomeVisitors = {
  who: 'some',
  any: null,
  all: [],
  none: [],
  facts: new Map(),
  account: null,
  secondFactor: false,
  loginWithin: null,
  flags: new Map(),
  joinedWithin: null,
};

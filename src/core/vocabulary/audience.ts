import type { Seconds } from '../time/duration.js';

/** Whatever else a rule may ask about an account. */
export type Facts = ReadonlyMap<string, string>;

/** Who may come in. `some` admits signed-in visitors for whom each of the conditions that are present holds. */
export type Audience = { readonly who: 'everyone' | 'guests' | 'signed-in' } | SomeVisitors;

export interface SomeVisitors {
  readonly who: 'some';
  /** Any of these roles; null when it does not matter. */
  readonly any: readonly string[] | null;
  readonly all: readonly string[];
  readonly none: readonly string[];
  readonly facts: Facts;
  /** The path parameter that must name the visitor's own account. */
  readonly account: string | null;
  /** Whether a one-time code must have been given in this session. */
  readonly secondFactor: boolean;
  /** How long ago the login may be at most. */
  readonly loginWithin: Seconds | null;
}

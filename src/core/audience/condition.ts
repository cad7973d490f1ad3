import type * as z from 'zod';
import type { Scope } from '../language/text/name-reader.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Pattern } from '../paths/pattern.js';
import type { Clock, Instant } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Facts } from '../vocabulary/audience.js';
import type { Direction, Sides } from '../vocabulary/direction.js';

/** All that is said of one condition of an audience. One file a condition; `all-conditions.ts` lists them. */
export interface Condition<Value, Written = never> {
  /** The key that a policy writes. */
  readonly key: string;
  /** What may stand after the colon. It is asked for once. */
  schema(): z.ZodType<Written>;
  /** What it is where nothing is asked. */
  readonly nothing: Value;
  isAsked(value: Value): boolean;
  /** Reads what was written. */
  read(written: Written, at: Path, reading: Reading): Value;
  /** Why whoever is not admitted is refused. */
  readonly reason: Refused;
  /** Whether it holds for somebody who is signed in. */
  admits(value: Value, visitor: Visitor, where: Where): boolean;
  /** What of a visitor could be otherwise, so that it would hold: each by itself one step. */
  changes(value: Value, visitor: Visitor, where: Otherwise): readonly Changed[];
  /** How more or fewer are admitted after a change; empty for no difference. */
  compare(values: Sides<Value>, holds: Sides<RolesHeld>): readonly Direction[];
  /** In words, after `signed-in`. */
  words(value: Value): readonly string[];
  /** A value that is the same where the same people are meant. */
  keyed(value: Value): unknown;
  /** Whether it names who is meant, so that `signed-in` need not be said before it. */
  readonly isOfPeople?: true;
  /** Whether guests meet it too, who hold no role and of whom nothing is known. */
  readonly isForGuests?: true;
  /** What may change it for somebody who does nothing: time, or a switch of the app. */
  readonly turns?: 'with-time' | 'with-a-switch';
  /** What it asks of parameters of the path, with the values that would do for an account. */
  own?(value: Value, account: Owner): readonly (readonly [parameter: string, values: readonly string[]])[];
  /** The same without what it asks of the path. */
  apartFromPath?(value: Value): Value;
  /** Until when it holds: how long, and since what. */
  limit?(value: Value): Limit | null;
}

/** Why somebody who is signed in is not in an audience. */
export type Refused = 'role' | 'not-owner' | 'flag' | 'joined-long-ago' | 'code-needed' | 'stale-login';

/** Somebody as an audience looks at them. */
export interface Visitor {
  /** The account's name; null for a guest. */
  readonly account: string | null;
  readonly roles: ReadonlySet<string>;
  readonly facts: Facts;
  /** The switches of the app that are on. */
  readonly flags: ReadonlySet<string>;
  /** Whether a one-time code was given since the login. */
  readonly secondFactor: boolean;
  /** When they logged in; null for somebody who is only known again. */
  readonly since: Instant | null;
  /** When the account was made; null for one that was made long ago. */
  readonly joinedAt: Instant | null;
}

/** What an audience is asked by, and when. */
export interface Where {
  readonly parameters: ReadonlyMap<string, string>;
  readonly clock: Clock;
}

/** The same, with what tells what a visitor would be otherwise. */
export interface Otherwise extends Where {
  readonly holds: RolesHeld;
}

/** Each role with all that it holds. */
export type RolesHeld = ReadonlyMap<string, ReadonlySet<string>>;

/** An account as far as paths name what is its own. */
export interface Owner {
  readonly name: string;
  readonly facts: Facts;
}

/** A time within which a condition holds. */
export interface Limit {
  readonly life: Seconds;
  readonly since: (visitor: Visitor) => Instant | null;
}

/** What reading a condition needs: names that are reported where a policy has none such. */
export interface Reading {
  readonly scope: Scope;
  /** The paths for which the audience stands. */
  readonly patterns: readonly Pattern[];
  roles(names: readonly string[], at: Path): readonly string[];
  flags(stands: Readonly<Record<string, boolean>>, at: Path): ReadonlyMap<string, boolean>;
}

/** Something that could be different about a visitor. */
export type ChangeOfVisitor =
  | { readonly change: 'log-in-again' | 'give-code' }
  | { readonly change: 'hold' | 'lose'; readonly role: string }
  | { readonly change: 'have-facts'; readonly facts: Facts }
  | { readonly change: 'switch'; readonly flags: ReadonlyMap<string, boolean> }
  | { readonly change: 'join-lately'; readonly within: Seconds }
  | { readonly change: 'be'; readonly account: string };

/** A step, and what it makes of the visitor. */
export interface Changed {
  readonly step: ChangeOfVisitor;
  readonly after: Partial<Visitor>;
}

/** A condition, with what it is by the words of a policy. */
export function condition<Value, Written>(all: Condition<Value, Written>): Condition<Value, Written> {
  return all;
}

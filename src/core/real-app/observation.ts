import type { Method } from '../http/messages.js';
import type { Credential } from '../vocabulary/credentials.js';

/** One request to the real app with its answer, in the policy's own addresses. */
export interface Message {
  readonly method: Method;
  /** Path and query. */
  readonly target: string;
  readonly status: number;
  readonly location: string | null;
  /** Whether it is the answer to a form, and shows the form again. */
  readonly isAgain: boolean;
}

/** What of a step is held against the policy. */
export const ASPECTS = ['lands', 'status', 'seen-as', 'via', 'refreshes', 'menu', 'parts', 'holds'] as const;
export type Aspect = (typeof ASPECTS)[number];

/** What a real app did in a step. */
export interface Observed {
  /** The address of the page in front; null for none. */
  readonly lands: string | null;
  /** The status of the last answer; null where none came. */
  readonly status: number | null;
  /** An account, `guest`, or `somebody` where the app tells no more than that somebody is signed in. */
  readonly seenAs: string | null;
  /** What tells it: the last answer, the page in front as the app gave it, or script of that page. */
  readonly toldBy: 'answer' | 'page' | 'script';
  readonly via: readonly string[];
  readonly refreshes: number;
  /** Of the menu's links those that the page has. */
  readonly menu: readonly string[];
  /** Of the parts that the policy gives the page those that it shows. */
  readonly parts: readonly string[];
  readonly holds: readonly Credential[];
  readonly messages: readonly Message[];
  /**
   * Whether a page that answers every request with 200 shows what was asked for; null where the status tells, or nothing was
   * asked.
   */
  readonly isThere: boolean | null;
  /** Why the step could not be done as a person would; null where it was. */
  readonly hindrance: string | null;
  /** What could not be judged, each with the reason. */
  readonly unjudged: ReadonlyMap<Aspect, string>;
}

/** Who is signed in where an app tells only that somebody is. */
export const SOMEBODY = 'somebody';

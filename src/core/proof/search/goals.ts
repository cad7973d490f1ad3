// Step 5 of docs/proof-method.md: cover and search.

import type { PolicyPromise, Policy } from '../../language/policy.js';
import { ALL_LAWS } from '../../laws/all-laws.js';
import type { LawMeta } from '../../laws/law.js';
import type { LeftBehind } from '../../laws/memory.js';
import type { Seconds } from '../../time/duration.js';
import { promiseKept } from '../../laws/promise-kept.js';
import { lawOfPromise } from '../../laws/promises.js';

/** What is to be settled: a law, or a promise of the policy. */
export interface Goal {
  /** The name of the law, or `promise` with its number from 1. */
  readonly id: string;
  readonly law: LawMeta | null;
  readonly promise: PolicyPromise | null;
  /** What the policy lacks, so that the law is not asked of it; null where it is asked. */
  readonly lacks: string | null;
}

/** All laws, then all promises of a policy. */
export function goalsOf(policy: Policy): Goal[] {
  return [
    ...ALL_LAWS.map(({ meta }): Goal => ({
      ...{ id: meta.name, law: meta, promise: null },
      lacks: meta.needs?.isThere(policy) === false ? meta.needs.words : null,
    })),
    ...policy.promises.map((promise): Goal => ({ id: idOf(promise), law: null, promise, lacks: null })),
  ];
}

/** The law that a walk breaks at its last step where a goal is missed; null for a promise that walks are not held to. */
export function lawOf({ law, promise }: Goal): string | null {
  return law?.name ?? (promise && lawOfPromise(promise));
}

/** The seconds that pass at least before a goal can be missed: what is promised for a time is broken only after it. */
export function leastSecondsTo({ law, promise }: Goal, { promises }: Policy): Seconds {
  if (promise !== null) return promise.atMost ?? 0;
  // Every other law can be broken by more than what is promised.
  if (law?.name !== promiseKept.meta.name) return 0;
  const times = promises.flatMap((each) => (lawOfPromise(each) === law.name ? [each.atMost ?? 0] : []));
  return Math.min(...times);
}

/** The id of a promise as a goal. */
export function idOf({ at }: PolicyPromise): string {
  return `promise ${Number(at[1]) + 1}`;
}

/** How a law is missed: by what is weak, where and for whom. A promise is missed in one way, and named by its id. */
export function missOf(law: string, weakness: string): string {
  return `${law} ${weakness}`;
}

/** The id of the goal that is missed so. */
export function goalMissed(miss: string): string {
  if (miss.startsWith('promise ')) return miss;
  return miss.slice(0, miss.indexOf(' '));
}

/** What of all that was left behind bears on a miss; by it the rest need not be told apart. */
export function watchedFor(miss: string, { promises }: Policy): (left: LeftBehind) => boolean {
  const promise = promises.find((each) => idOf(each) === miss);
  if (promise !== undefined) {
    return ({ after, what }) => after === promise.after && (promise.copied ?? what) === what;
  }
  const law = goalMissed(miss);
  if (law === 'logout-final') return ({ after }) => after === 'logout';
  return ({ after }) => after !== 'logout' && (law === 'promise-kept' || law === 'right-audience');
}

import type { PolicyPromise, Policy } from '../language/policy.js';
import { ALL_LAWS } from '../laws/all-laws.js';
import type { LawMeta } from '../laws/law.js';
import type { Seconds } from '../language/duration.js';
import { promiseKept } from '../laws/promise-kept.js';
import { lawOfPromise } from '../laws/promises.js';

/** What is to be settled: a law, or a promise of the policy. */
export interface Goal {
  /** The name of the law, or `promise` with its number from 1. */
  readonly id: string;
  readonly law: LawMeta | null;
  readonly promise: PolicyPromise | null;
}

/** All laws, then all promises of a policy. */
export function goalsOf({ promises }: Policy): Goal[] {
  return [
    ...ALL_LAWS.map(({ meta }): Goal => ({ id: meta.name, law: meta, promise: null })),
    ...promises.map((promise): Goal => ({ id: idOf(promise), law: null, promise })),
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

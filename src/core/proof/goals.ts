import type { PolicyPromise, Policy } from '../language/policy.js';
import { ALL_LAWS } from '../laws/all-laws.js';
import type { LawMeta } from '../laws/law.js';
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

/** The id of a promise as a goal. */
export function idOf({ at }: PolicyPromise): string {
  return `promise ${Number(at[1]) + 1}`;
}

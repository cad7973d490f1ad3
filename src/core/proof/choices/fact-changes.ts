// Step 3 of docs/proof-method.md: what is tried.

import { changedFacts } from '../../app/administration.js';
import { factsKey } from '../../app/classes.js';
import type { Policy } from '../../language/policy.js';
import { factsAsked } from '../../language/stated.js';
import type { Facts } from '../../vocabulary/audience.js';

/** A tenant that no account of the policy has. */
export const OTHER_TENANT = 'elsewhere';

/** Whether people change their own facts, by what they write. */
export function changesFacts({ pages }: Policy): boolean {
  return pages.some(({ sets }) => sets !== null);
}

/** The facts that an administrator gives an account, one at a time: every value that is asked for, and none. */
export function factsGiven(policy: Policy, own: Facts): Facts[] {
  return [...factsAsked(policy)].flatMap(([name, { values, isTenant }]) => {
    const tenants = isTenant ? [...(own.get(name) ?? []), OTHER_TENANT] : [];
    const all = [...new Set([...values, ...tenants])].map((value) => [value]);
    return [[], ...all].map((given): Facts => new Map([[name, given]]));
  });
}

/** So many switches are tried in every way together. */
export const MOST_FLAGS = 4;

/** So many sets of facts of one account are followed. */
const MOST_SETS = 400;

/** Every way in which the facts of an account can come to be. */
export interface FactSets {
  readonly sets: readonly Facts[];
  readonly isComplete: boolean;
}

/**
 * Every way in which the facts of an account can come to be: by what is written to pages that set some and, where an administrator
 * takes part, by what that gives. They come in an order of their own, so that accounts that can come to have the same are alike.
 */
export function factSets(policy: Policy, own: Facts, isAdministrated: boolean): FactSets {
  const changes = [
    ...policy.pages.flatMap(({ sets }) => sets ?? []),
    ...(isAdministrated ? factsGiven(policy, own) : []),
  ];
  const found = new Map([[factsKey(own), own]]);
  for (const facts of found.values()) {
    for (const change of changes) {
      const next = changedFacts(facts, change);
      const key = factsKey(next);
      if (found.has(key)) continue;
      if (found.size >= MOST_SETS) return { sets: [...found.values()], isComplete: false };
      found.set(key, next);
    }
  }
  const sorted = [...found].sort(([a], [b]) => (a < b ? -1 : 1));
  return { sets: sorted.map(([, facts]) => facts), isComplete: true };
}

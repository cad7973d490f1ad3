import type { LandingEntry, Policy } from '../language/policy.js';
import type { Facts } from '../vocabulary/audience.js';
import { matches, segmentsOf } from '../paths/pattern.js';

/** What decides where somebody lands. */
export interface Lander {
  readonly roles: ReadonlySet<string>;
  readonly facts: Facts;
}

/** Where the policy lands somebody: one rule for every way in. */
export function landingEntry(policy: Policy, who: Lander): LandingEntry | null {
  return firstEntry(policy.landing, who);
}

/**
 * The first entry of a list that is for somebody: whose role they hold, whose facts they have, or that is for whoever is
 * left.
 *
 * @param left the normalised path of the page that was left, where the list is that of a logout
 */
export function firstEntry(
  entries: readonly LandingEntry[],
  who: Lander,
  left: string | null = null,
): LandingEntry | null {
  const isFor = ({ role, facts, leaving }: LandingEntry) =>
    (role === null || role.some((name) => who.roles.has(name))) &&
    (facts === null || hasFacts(who.facts, facts)) &&
    (leaving === null || (left !== null && matches(leaving, segmentsOf(left))));
  return entries.find(isFor) ?? null;
}

/** Whether all of some facts are among those of somebody. */
export function hasFacts(held: Facts, asked: Facts): boolean {
  for (const [name, value] of asked) if (held.get(name) !== value) return false;
  return true;
}

import type { LandingEntry, Login, Policy } from '../language/policy.js';
import type { Facts } from '../vocabulary/audience.js';
import { takes } from './logins.js';
import { matches, segmentsOf } from '../paths/pattern.js';
import { hasFacts } from '../audience/facts.js';

/** What decides where somebody lands. */
export interface Lander {
  readonly roles: ReadonlySet<string>;
  readonly facts: Facts;
}

/** Where the policy lands somebody: one rule for every way in. At a login that takes them its own entries go before it. */
export function landingEntry(policy: Policy, who: Lander, by: Login | null = null): LandingEntry | null {
  const own = by !== null && takes(by, who) ? firstEntry(by.landing, who) : null;
  return own ?? firstEntry(policy.landing, who);
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

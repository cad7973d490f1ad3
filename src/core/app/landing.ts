import type { LandingEntry, Policy } from '../language/policy.js';

/** The entry that lands somebody with these roles: the first whose role they hold, else the one for whoever is left. */
export function landingEntry(policy: Policy, roles: ReadonlySet<string>): LandingEntry | null {
  return (
    policy.landing.find((entry) => entry.role === null || entry.role.some((role) => roles.has(role))) ?? null
  );
}

// Step 3 of docs/proof-method.md: what is tried.

import { acceptedReturn } from '../../app/return-address.js';
import type { Route } from '../../app/router.js';
import type { LandingEntry, Policy } from '../../language/policy.js';

/**
 * What tells pages apart that somebody asks for before a login: which logins take them back there, and whether people land
 * there by themselves. Who asks for a page where they land anyway does not see that it was forgotten.
 */
export function returnsAt(policy: Policy, { path, page }: Route): string[] {
  const { logins, landing, signUp, pages } = policy;
  const rules = logins.flatMap((login) => login.return ?? []);
  if (rules.length === 0 || page === null) return [];
  const toPage = ({ to }: LandingEntry) => to === path || to === page.pattern.text;
  const entries = [
    landing,
    ...logins.map((login) => login.landing),
    ...pages.map(({ forward }) => forward?.entries ?? []),
  ];
  const isSignedUp = signUp !== null && signUp.lands !== 'landing' && signUp.lands.path === path;
  const isTarget = isSignedUp || entries.some((each) => each.some(toPage));
  return [...rules.map((rule) => String(acceptedReturn(rule, path, policy) !== null)), isTarget ? path : ''];
}

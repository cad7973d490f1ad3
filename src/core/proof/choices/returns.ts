// Step 3 of docs/proof-method.md: what is tried.

import { acceptedReturn } from '../../app/return-address.js';
import type { Route } from '../../app/router.js';
import type { Policy } from '../../language/policy.js';

/**
 * What tells pages apart that somebody asks for before a login: which logins take them back there, and whether people land
 * there by themselves. Who asks for a page where they land anyway does not see that it was forgotten.
 */
export function returnsAt(policy: Policy, { path, page }: Route): string[] {
  const rules = policy.logins.flatMap((login) => login.return ?? []);
  if (rules.length === 0 || page === null) return [];
  const targets = landedAt(policy);
  const isTarget = targets.has(path) || targets.has(page.pattern.text);
  return [...rules.map((rule) => String(acceptedReturn(rule, path, policy) !== null)), isTarget ? path : ''];
}

const known = new WeakMap<Policy, ReadonlySet<string>>();

/** Every address, or the pattern of one, at which a login or sign-up lands people; gathered once for all requests. */
function landedAt(policy: Policy): ReadonlySet<string> {
  let targets = known.get(policy);
  if (targets === undefined) {
    const { landing, logins, signUp, pages } = policy;
    const entries = [
      ...landing,
      ...logins.flatMap((login) => login.landing),
      ...pages.flatMap(({ forward }) => forward?.entries ?? []),
    ];
    targets = new Set(entries.map(({ to }) => to));
    if (signUp !== null && signUp.lands !== 'landing') targets = new Set([...targets, signUp.lands.path]);
    known.set(policy, targets);
  }
  return targets;
}

import { takes } from '../app/logins.js';
import { landingEntry, type Lander } from '../app/landing.js';
import type { Identity } from '../app/identify.js';
import type { LandingEntry, Policy } from '../language/policy.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

/** A landing must admit whom it is for. */
export const landingRefused = check<{ who: string; to: string }>({
  meta: {
    code: 'landing-refused',
    severity: 'error',
    title: 'Everybody is let in at their own landing.',
    why: 'A login that was right ends at a refusal, and the visitor cannot tell that it worked.',
    cwe: null,
    mend: 'Land the role at a page that is open to it.',
  },
  *find(facts) {
    const { landing, logins } = facts.policy;
    for (const entry of [...landing, ...logins.flatMap((login) => login.landing)]) {
      // A path with a parameter is no address that anybody could be let in at.
      if (!facts.hasPage(entry.to) || entry.to.includes('/:')) continue;
      const refused = peopleOf(entry, facts).find(
        ({ visitor }) => facts.mayRead(entry.to, visitor) !== 'served',
      );
      if (refused === undefined) continue;
      const grounds = facts.route(entry.to)?.grounds.at ?? [];
      yield {
        at: entry.at,
        params: { who: refused.who, to: entry.to },
        related: [{ at: grounds, message: `this is whom ${entry.to} is for` }],
      };
    }
  },
  message: ({ who, to }) => `${who} lands at ${to} and is refused there`,
});

/** The accounts that land by an entry; where there are none, somebody who holds just one of its roles. */
function peopleOf(entry: LandingEntry, facts: Facts): { readonly who: string; readonly visitor: Identity }[] {
  const { accounts, roles } = facts.policy;
  const isLanded = (who: Lander) => landsBy(facts.policy, who, entry);
  const real = [...accounts.values()]
    .filter(({ state, key }) => state === 'active' && !key)
    .filter(isLanded)
    .map((account) => ({ who: `the account ${account.name}`, visitor: facts.signedIn(account) }));
  if (real.length > 0 || accountsAt(entry, facts) > 0) return real;
  return (entry.role ?? [])
    .map((role) => ({ role, holds: roles.get(role)?.holds ?? new Set<string>() }))
    .map(({ role, holds }) => ({ who: `the role ${role}`, visitor: facts.holderOf(holds) }))
    .filter(({ visitor }) => isLanded(visitor));
}

/** How many accounts land by an entry, those that cannot log in now among them. */
function accountsAt(entry: LandingEntry, facts: Facts): number {
  const people = [...facts.policy.accounts.values()].filter(({ key }) => !key);
  return people.filter((each) => landsBy(facts.policy, each, entry)).length;
}

/** Whether a login that takes somebody lands them by an entry, or a way in does that has no entries of its own. */
function landsBy(policy: Policy, who: Lander, entry: LandingEntry): boolean {
  const logins = policy.logins.filter((each) => takes(each, who));
  return [null, ...logins].some((each) => landingEntry(policy, who, each) === entry);
}

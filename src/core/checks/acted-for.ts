import { isActedFor } from '../app/acting.js';
import { accountClasses } from '../app/classes.js';
import type { Person } from './encounters.js';
import type { Facts } from './facts.js';

/** The accounts of each kind for which others may act, and for each role of those somebody who was given just that one. */
export function actedFor(facts: Facts): Person[] {
  const { policy } = facts;
  const { impersonation, accounts, roles } = policy;
  if (impersonation === null) return [];
  const real = [...accounts.values()].filter((each) => isActedFor(impersonation, each));
  return [
    ...accountClasses(policy, real).map(({ account }) => ({
      who: `the account ${account.name}`,
      visitor: { ...facts.signedIn(account), secondFactor: true },
    })),
    ...impersonation.of.map((role) => ({
      who: `the role ${role}`,
      visitor: facts.holderOf(roles.get(role)?.holds ?? new Set([role])),
    })),
  ];
}

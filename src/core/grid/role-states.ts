import type { Account, Policy, Role } from '../language/policy.js';
import { owesByRole } from '../language/people-reader.js';
import { factsAsked } from '../language/stated.js';
import type { Stage } from '../play/stage.js';
import { holdsAnything, reach, type Condition, type TriedState } from './login-state.js';

/** What a column for a role is called. */
export function roleColumn(role: string): string {
  return `role ${role}`;
}

/** What the column is called for whoever is signed in and holds none. */
export const WITHOUT_ROLE = 'without a role';

/** What the column is called of those who are all alike to the app. */
export const ANYBODY = 'anybody';

/** The roles that no account of a policy holds. */
export function unheldRoles({ roles, accounts }: Policy): Role[] {
  const held = new Set([...accounts.values()].flatMap((account) => [...account.roles]));
  return [...roles.values()].filter(({ name }) => !held.has(name));
}

/**
 * Somebody who was given one role and nothing else, but for a tenant where there are any: for each of some roles; without a
 * choice, for every role and for none.
 */
export function roleStates(
  stage: Stage,
  roles: Iterable<Role> | null = null,
  conditions: readonly Condition[] = ['signed-in'],
): TriedState[] {
  const { policy } = stage.app;
  const holders = roles === null ? [...policy.roles.values(), null] : [...roles];
  return conditions.flatMap((condition) => {
    const isPlain = condition === 'signed-in';
    const reached = holders.flatMap((role): TriedState[] => {
      const login = reach(stage, holderOf(policy, role), condition);
      if (login === null) return [];
      const bare = role === null ? WITHOUT_ROLE : roleColumn(role.name);
      const name = isPlain ? bare : `${bare} ${condition}`;
      return [{ name, condition: isPlain ? null : condition, alike: [], login }];
    });
    const [first] = reached;
    // Whoever holds nothing that counts is a guest to the app, whatever roles the account has.
    const isAnybody = roles === null && !isPlain && reached.length === holders.length;
    return first !== undefined && isAnybody && reached.every(({ login }) => !holdsAnything(stage, login))
      ? [{ ...first, name: `${ANYBODY} ${condition}` }]
      : reached;
  });
}

function holderOf(policy: Policy, role: Role | null): Account {
  const holds = role?.holds ?? new Set<string>();
  const tenants = [...factsAsked(policy)].flatMap(([fact, { isTenant }]) => (isTenant ? [fact] : []));
  return {
    at: role?.at ?? ['roles'],
    name: role === null ? WITHOUT_ROLE : roleColumn(role.name),
    password: 'a password',
    given: role === null ? [] : [role.name],
    roles: holds,
    facts: new Map(tenants.map((fact) => [fact, ['some']])),
    secondFactor: owesByRole(policy.secondFactor?.of ?? [], holds),
    key: false,
    alwaysOwesCode: false,
    state: 'active',
    joined: null,
  };
}

import type { Account, Policy, Role } from '../language/policy.js';
import { owesByRole } from '../language/people-reader.js';
import { factsAsked } from '../language/stated.js';
import type { Stage } from '../play/stage.js';

import { reach, type TriedState } from './login-state.js';

/** What a column for a role is called. */
export function roleColumn(role: string): string {
  return `role ${role}`;
}

/** The roles that no account of a policy holds. */
export function unheldRoles({ roles, accounts }: Policy): Role[] {
  const held = new Set([...accounts.values()].flatMap((account) => [...account.roles]));
  return [...roles.values()].filter(({ name }) => !held.has(name));
}

/** Somebody who was given one role and nothing else, but for a tenant where there are any, for each of some roles. */
export function roleStates(stage: Stage, roles?: Iterable<Role>): TriedState[] {
  const { policy } = stage.app;
  return [...(roles ?? policy.roles.values())].flatMap((role) => {
    const login = reach(stage, holderOf(policy, role), 'signed-in');
    return login === null ? [] : [{ name: roleColumn(role.name), alike: [], login }];
  });
}

function holderOf(policy: Policy, { name, holds, at }: Role): Account {
  const tenants = [...factsAsked(policy)].flatMap(([fact, { isTenant }]) => (isTenant ? [fact] : []));
  return {
    at,
    name: roleColumn(name),
    password: name,
    given: [name],
    roles: holds,
    facts: new Map(tenants.map((fact) => [fact, ['some']])),
    secondFactor: owesByRole(policy.secondFactor?.of ?? [], holds),
    key: false,
    alwaysOwesCode: false,
    state: 'active',
    joined: null,
  };
}

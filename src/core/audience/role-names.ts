import { oneOrMore, text } from '../language/text/schema-parts.js';
import { directionOfSets, type Direction, type Sides } from '../vocabulary/direction.js';
import type { Changed, RolesHeld, Visitor } from './condition.js';

/** A role, or several. */
export const roleNames = oneOrMore('a role or a list of roles', text('a role'));

/** What holding each of some roles would make of a visitor. */
export function toHold(roles: readonly string[], visitor: Visitor, holds: RolesHeld): Changed[] {
  return roles.flatMap((role): Changed[] => {
    if (visitor.roles.has(role)) return [];
    const after = { roles: new Set([...visitor.roles, ...(holds.get(role) ?? [role])]) };
    return [{ step: { change: 'hold', role }, after }];
  });
}

/** How one set differs from another; empty where it does not. */
export function differing(sets: Sides<ReadonlySet<string>>, more: Direction): Direction[] {
  const { before, after } = sets;
  const isSame = before.size === after.size && [...before].every((each) => after.has(each));
  return isSame ? [] : [directionOfSets(sets, more)];
}

/** Names in order, each once. */
export function sorted(names: readonly string[]): string[] {
  return [...new Set(names)].sort();
}

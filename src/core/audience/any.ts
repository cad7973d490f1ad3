import { condition, type RolesHeld } from './condition.js';
import { differing, roleNames, sorted, toHold } from './role-names.js';

/** Holds one of some roles; null where it does not matter. */
export const any = condition<readonly string[] | null, string[]>({
  key: 'any',
  schema: () => roleNames,
  nothing: null,
  isAsked: (roles) => roles !== null,
  read: (names, at, reading) => reading.roles(names, at),
  reason: 'role',
  admits: (roles, visitor) => roles === null || roles.some((role) => visitor.roles.has(role)),
  changes: (roles, visitor, { holds }) => toHold(roles ?? [], visitor, holds),
  compare: ({ before, after }, holds) =>
    differing({ before: enough(before, holds.before), after: enough(after, holds.after) }, 'loosens'),
  words: (roles) => (roles === null ? [] : [roles.join(' or ')]),
  keyed: (roles) => (roles === null ? null : sorted(roles)),
  isOfPeople: true,
});

/** The roles whose holders one of some roles is enough for; with null, those without any role too. */
function enough(roles: readonly string[] | null, holds: RolesHeld): ReadonlySet<string> {
  if (roles === null) return new Set([...holds.keys(), '']);
  return new Set([...holds].flatMap(([name, held]) => (roles.some((role) => held.has(role)) ? [name] : [])));
}

import { condition } from './condition.js';
import { differing, roleNames, sorted, toHold } from './role-names.js';

/** Holds all of some roles. */
export const all = condition<readonly string[], string[]>({
  key: 'all',
  schema: () => roleNames,
  nothing: [],
  isAsked: (roles) => roles.length > 0,
  read: (names, at, reading) => reading.roles(names, at),
  reason: 'role',
  admits: (roles, visitor) => roles.every((role) => visitor.roles.has(role)),
  changes: (roles, visitor, { holds }) => toHold(roles, visitor, holds),
  compare: ({ before, after }) => differing({ before: new Set(before), after: new Set(after) }, 'tightens'),
  words: (roles) =>
    roles.length === 0 ? [] : [`${roles.length > 1 ? 'all of ' : ''}${roles.join(' and ')}`],
  keyed: sorted,
  isOfPeople: true,
});

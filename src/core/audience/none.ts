import { condition, type Changed } from './condition.js';
import { differing, roleNames, sorted } from './role-names.js';

/** Holds none of some roles. */
export const none = condition<readonly string[], string[]>({
  key: 'none',
  schema: () => roleNames,
  nothing: [],
  isAsked: (roles) => roles.length > 0,
  read: (names, at, reading) => reading.roles(names, at),
  reason: 'role',
  admits: (roles, visitor) => !roles.some((role) => visitor.roles.has(role)),
  changes: (roles, visitor, { holds }) =>
    roles.flatMap((role): Changed[] => {
      if (!visitor.roles.has(role)) return [];
      // Losing a role means losing those that bring it, too.
      const kept = [...visitor.roles].filter((name) => holds.get(name)?.has(role) !== true);
      return [{ step: { change: 'lose', role }, after: { roles: new Set(kept) } }];
    }),
  compare: ({ before, after }) => differing({ before: new Set(before), after: new Set(after) }, 'tightens'),
  words: (roles) => (roles.length === 0 ? [] : [`not ${roles.join(' nor ')}`]),
  keyed: sorted,
  isOfPeople: true,
  isForGuests: true,
});

import { check } from './check.js';

/** Every entry of session.by-role limits somebody. */
export const roleLimitShadowed = check<{ role: string; by: string }>({
  meta: {
    code: 'role-limit-shadowed',
    severity: 'warning',
    title: 'Every entry of session.by-role limits somebody.',
    why: 'The first role that somebody holds decides. An entry for a role that brings an earlier one limits nobody, and those whom it was meant for have the other limits.',
    cwe: null,
    mend: 'Put the entry before the one that takes its people: the most particular role first.',
  },
  *find({ policy: { session, roles } }) {
    const entries = session['by-role'];
    for (const [index, { at, role }] of entries.entries()) {
      const held = roles.get(role)?.holds ?? new Set([role]);
      const by = entries.slice(0, index).find((earlier) => held.has(earlier.role));
      if (by === undefined) continue;
      yield {
        at: [...at, 'role'],
        params: { role, by: by.role },
        related: [{ at: [...by.at, 'role'], message: 'this entry decides' }],
      };
    }
  },
  message: ({ role, by }) =>
    role === by
      ? `the limits of ${role} are said twice, and the first decide`
      : `whoever holds ${role} holds ${by}, whose limits come first: these limit nobody`,
});

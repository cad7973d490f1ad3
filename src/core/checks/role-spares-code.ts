import { owesByRole } from '../language/people-reader.js';
import { check } from './check.js';
import { openedTo, type Opened } from './opened.js';

/** Whoever may do as much as those who owe a code owes one too. */
export const roleSparesCode = check<{ role: string; owing: string }>({
  meta: {
    code: 'role-spares-code',
    severity: 'warning',
    title: 'Whoever may do as much as those who owe a code owes one too.',
    why: 'The code guards what the role opens. Where another role opens all of it without one, its password is enough for the same.',
    cwe: 'CWE-308',
    mend: 'Name the role in second-factor.of, or let it open less.',
  },
  *find(facts) {
    const { roles, secondFactor } = facts.policy;
    if (secondFactor === null || secondFactor.of.length === 0) return;
    const owes = (held: ReadonlySet<string>) => owesByRole(secondFactor.of, held);
    const nobody = openedTo(facts, new Set());
    const all = [...roles.values()];
    const ofOwing = all
      .filter(({ holds }) => owes(holds))
      .map(({ name, holds }) => ({ name, opened: more(openedTo(facts, holds), nobody) }));
    for (const { name, holds, at } of all) {
      if (owes(holds)) continue;
      const own = openedTo(facts, holds);
      const found = ofOwing.find(
        ({ opened }) => opened.size > 0 && [...opened].every((each) => own.has(each)),
      );
      if (found === undefined) continue;
      yield {
        at,
        params: { role: name, owing: found.name },
        related: [{ at: [...secondFactor.at, 'of'], message: 'here the other role owes the code' }],
      };
    }
  },
  message: ({ role, owing }) =>
    `${role} opens all that ${owing} does, which owes a one-time code, and owes none`,
});

/** What a role opens beyond what everybody has who is signed in. */
function more(opened: Opened, anybody: Opened): Opened {
  return new Set([...opened].filter((each) => !anybody.has(each)));
}

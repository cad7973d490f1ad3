import { check } from './check.js';

/** Every role is held by somebody or opens something. */
export const roleUnused = check<{ role: string }>({
  meta: {
    code: 'role-unused',
    severity: 'advice',
    title: 'Every role is held by somebody or opens something.',
    why: 'A role that nobody holds and nothing asks for is often a name that was changed everywhere else.',
    cwe: null,
    mend: 'Give it to an account, use it in an audience or a landing, or take it out.',
  },
  *find(facts) {
    const { roles, landing, logins, accounts } = facts.policy;
    const held = [...accounts.values()].flatMap((account) => [...account.roles]);
    const lists = [landing, ...logins.map((login) => login.landing)].flat();
    const asked = [...lists.flatMap(({ role }) => role ?? []), ...logins.flatMap(({ takes }) => takes ?? [])];
    const used = new Set([...held, ...asked]);
    for (const { audience } of facts.audiences) {
      if (audience.who !== 'some') continue;
      for (const role of [...(audience.any ?? []), ...audience.all, ...audience.none]) used.add(role);
    }
    for (const role of roles.values()) {
      // A role may serve only to hold others.
      if (![...role.holds].some((name) => used.has(name))) yield { at: role.at, params: { role: role.name } };
    }
  },
  message: ({ role }) => `nobody holds the role ${role}, and nothing asks for it`,
});

import { check } from './check.js';

/** Signing up gives no more than where it lands needs. */
export const signUpGivesMuch = check<{ role: string; extra: readonly string[] }>({
  meta: {
    code: 'sign-up-gives-much',
    severity: 'warning',
    title: 'Signing up gives no more than where it lands needs.',
    why: 'Anybody can sign up. A role that includes others gives a stranger what those open.',
    cwe: 'CWE-269',
    mend: 'Give new accounts the least role, and raise it by hand.',
  },
  *find(facts) {
    const { signUp, roles } = facts.policy;
    if (signUp === null) return;
    for (const [index, name] of signUp.given.entries()) {
      const extra = [...(roles.get(name)?.holds ?? [])].filter((held) => held !== name);
      if (extra.length === 0) continue;
      yield { at: [...signUp.at, 'roles', index], params: { role: name, extra } };
    }
  },
  message: ({ role, extra }) => `whoever signs up holds ${role}, and with it ${extra.join(', ')}`,
});

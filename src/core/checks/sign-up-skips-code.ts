import { check } from './check.js';

/** Nobody comes to a role that owes a code without one. */
export const signUpSkipsCode = check<{ role: string }>({
  meta: {
    code: 'sign-up-skips-code',
    severity: 'error',
    title: 'Nobody comes to a role that owes a code without one.',
    why: 'The login asks everybody with the role for a one-time code; whoever signs up is let in with the role and was never asked.',
    cwe: 'CWE-308',
    mend: 'Let the sign-up give another role, or leave signing in to the login: sign-up.then: nothing.',
  },
  *find(facts) {
    const { signUp, secondFactor } = facts.policy;
    if (signUp?.then !== 'login' || secondFactor?.asked !== 'at-login') return;
    const role = secondFactor.of.find((each) => signUp.roles.has(each));
    if (role === undefined) return;
    yield {
      at: [...signUp.at, 'roles'],
      params: { role },
      related: [{ at: [...secondFactor.at, 'of'], message: 'here the role owes the code' }],
    };
  },
  message: ({ role }) =>
    `a sign-up lets people in with the role ${role}, which owes a one-time code, without it`,
});

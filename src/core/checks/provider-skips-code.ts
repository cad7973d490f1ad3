import { check } from './check.js';

/** Who owes a one-time code gives it after an identity provider too. */
export const providerSkipsCode = check<{ name: string; who: string }>({
  meta: {
    code: 'provider-skips-code',
    severity: 'error',
    title: 'Who owes a one-time code gives it after an identity provider too.',
    why: 'The login asks for a second factor; by the provider a password alone, of another site, does.',
    cwe: 'CWE-308',
    mend: 'Leave code out of the provider, so that the code is asked for.',
  },
  *find({ policy: { providers, secondFactor, accounts } }) {
    if (secondFactor?.asked !== 'at-login') return;
    for (const { at, name, code, knows } of providers) {
      const owing = [...accounts.values()].find((each) => each.secondFactor && knows.has(each.name));
      const [role] = secondFactor.of;
      const who = owing === undefined ? role && `the role ${role}` : `the account ${owing.name}`;
      if (code === 'given' && who !== undefined) yield { at: [...at, 'code'], params: { name, who } };
    }
  },
  message: ({ name, who }) => `${name} lets ${who} in without the one-time code that they owe`,
});

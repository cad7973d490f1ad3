import { check } from './check.js';
import { linkFormsOf } from './link-forms.js';

/** Who owes a one-time code gives it after a link too. */
export const linkSkipsCode = check<{ what: string; who: string }>({
  meta: {
    code: 'link-skips-code',
    severity: 'error',
    title: 'Who owes a one-time code gives it after a link too.',
    why: 'Whoever can read somebody’s mail is in without the second factor, which is there for just that.',
    cwe: 'CWE-308',
    mend: 'Leave code out of the link, so that the code is asked for.',
  },
  *find({ policy }) {
    const { secondFactor, accounts } = policy;
    if (secondFactor === null || secondFactor.asked !== 'at-login') return;
    const owing = [...accounts.values()].find((account) => account.secondFactor);
    const [role] = secondFactor.of;
    const who = owing === undefined ? role && `the role ${role}` : `the account ${owing.name}`;
    if (who === undefined) return;
    for (const { form, what } of linkFormsOf(policy)) {
      if (form.code === 'given') yield { at: [...form.at, 'code'], params: { what, who } };
    }
  },
  message: ({ what, who }) => `${what} lets ${who} in without the one-time code that they owe`,
});

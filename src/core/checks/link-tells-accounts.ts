import { check } from './check.js';
import { linkFormsOf } from './link-forms.js';

/** Who asks for a link does not learn who has an account. */
export const linkTellsAccounts = check<{ path: string }>({
  meta: {
    code: 'link-tells-accounts',
    severity: 'warning',
    title: 'Who asks for a link does not learn who has an account.',
    why: 'A script tries addresses one after another, and is told which of them belong to customers.',
    cwe: 'CWE-204',
    mend: 'Answer alike whether there is an account or not: leave tells out.',
  },
  *find({ policy }) {
    for (const { form } of linkFormsOf(policy)) {
      if (!form.tells) continue;
      yield {
        at: [...form.at, 'tells'],
        params: { path: form.page },
        shownBy: `${form.submit.method} ${form.submit.path} for a name that nobody has is answered otherwise`,
      };
    }
  },
  message: ({ path }) => `the form at ${path} tells whether there is an account`,
});

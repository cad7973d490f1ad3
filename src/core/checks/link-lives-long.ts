import { formatDuration, type Seconds } from '../time/duration.js';
import { check } from './check.js';
import { linkFormsOf } from './link-forms.js';

/** A link that opens an account is over soon. */
export const linkLivesLong = check<{ what: string; life: Seconds }>({
  meta: {
    code: 'link-lives-long',
    severity: 'warning',
    title: 'A link that opens an account is over soon.',
    why: 'Links lie in mailboxes, histories and logs. Whoever finds one in its life has the account.',
    cwe: 'CWE-640',
    mend: 'Give it a life of minutes, such as 30m.',
  },
  *find({ policy }) {
    for (const { form, what, kind } of linkFormsOf(policy)) {
      const { life } = form.link;
      if (life > LONGEST[kind]) yield { at: [...form.at, 'life'], params: { what, life } };
    }
    const { confirm } = policy;
    if (confirm !== null && confirm.life > LONGEST.confirm) {
      yield {
        at: [...confirm.at, 'life'],
        params: { what: 'the link that confirms an account', life: confirm.life },
      };
    }
  },
  message: ({ what, life }) => `${what} is good for ${formatDuration(life)}`,
});

/** Long enough for a mail that is slow, and for somebody who is called away; a new account may wait for days. */
const LONGEST = { reset: 4 * 3600, 'sign-in': 3600, confirm: 7 * 86_400 } as const;

import { check } from './check.js';

/** Something waits for a confirmation. */
export const confirmationUnused = check<null>({
  meta: {
    code: 'confirmation-unused',
    severity: 'warning',
    title: 'Something waits for a confirmation.',
    why: 'Accounts are good without it: whoever signs up with an address that is not theirs is in.',
    cwe: 'CWE-287',
    mend: 'Set sign-up.then: confirm, or take confirm out.',
  },
  *find({ policy: { confirm, signUp, accounts } }) {
    if (confirm === null || signUp?.then === 'confirm') return;
    const waits = [...accounts.values()].some(({ state }) => state === 'unconfirmed');
    if (!waits) yield { at: confirm.at, params: null };
  },
  message: () => 'no account waits for the confirmation: signing up does not ask for it',
});

import { landingEntry } from '../app/landing.js';
import { check } from './check.js';

/** Everybody who can log in must land somewhere. */
export const landingUnmatched = check<{ account: string | null }>({
  meta: {
    code: 'landing-unmatched',
    severity: 'error',
    title: 'Every account has a landing.',
    why: 'A login that was right has nowhere to go and ends at a 404.',
    cwe: null,
    mend: 'Add { otherwise: path } as the last landing entry.',
  },
  *find(facts) {
    const { login, landing, accounts } = facts.policy;
    if (login === null) return;
    if (landing.length === 0) yield { at: ['login'], params: { account: null } };
    else {
      for (const account of accounts.values()) {
        if (landingEntry(facts.policy, account.roles) !== null) continue;
        yield {
          at: account.at,
          params: { account: account.name },
          related: [{ at: ['landing'], message: 'no entry here is for it' }],
        };
      }
    }
  },
  message: ({ account }) =>
    account === null
      ? 'there is a login but no landing for anybody'
      : `no landing entry is for the account ${account}`,
});

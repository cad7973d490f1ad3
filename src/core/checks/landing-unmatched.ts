import { landingEntry } from '../app/landing.js';
import { takes } from '../app/logins.js';
import { check } from './check.js';

/** Everybody who can log in must land somewhere. */
export const landingUnmatched = check<{ accounts: readonly string[] }>({
  meta: {
    code: 'landing-unmatched',
    severity: 'error',
    title: 'Every account has a landing.',
    why: 'A login that was right has nowhere to go and ends at a 404.',
    cwe: null,
    mend: 'Add { otherwise: path } as the last landing entry.',
  },
  *find(facts) {
    const { login, logins, landing, accounts } = facts.policy;
    if (login === null) return;
    const left = [...accounts.values()].filter(
      (account) =>
        !account.key &&
        logins.some((each) => takes(each, account) && landingEntry(facts.policy, account, each) === null),
    );
    if (landing.length + logins.flatMap((each) => each.landing).length === 0) {
      yield { at: login.at, params: { accounts: [] } };
    } else if (left.length > 0) {
      yield {
        at: ['landing'],
        params: { accounts: left.map((account) => account.name) },
        related: left.map((account) => ({ at: account.at, message: `${account.name} lands nowhere` })),
      };
    }
  },
  message: ({ accounts }) =>
    accounts.length === 0
      ? 'there is a login but no landing for anybody'
      : `no landing entry is for the ${accounts.length === 1 ? 'account' : 'accounts'} ${accounts.join(', ')}`,
});

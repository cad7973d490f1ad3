import { takes } from '../app/logins.js';
import { check } from './check.js';

/** Every account can log in somewhere. */
export const accountWithoutLogin = check<{ who: string }>({
  meta: {
    code: 'account-without-login',
    severity: 'error',
    title: 'Every account is taken by some login.',
    why: 'Each login takes some roles. Whoever holds none of them gives the right password and is told that it is wrong, at every door.',
    cwe: null,
    mend: 'Name one of its roles in takes of a login, or leave takes out of one.',
  },
  *find(facts) {
    const { logins, accounts, signUp } = facts.policy;
    if (logins.length === 0) return;
    const isTaken = (who: { readonly roles: ReadonlySet<string> }) => logins.some((each) => takes(each, who));
    const related = logins.map((each) => ({ at: [...each.at, 'takes'], message: 'this login takes others' }));
    for (const account of accounts.values()) {
      if (account.state !== 'active' || account.key || isTaken(account)) continue;
      yield { at: account.at, params: { who: `the account ${account.name}` }, related };
    }
    if (signUp !== null && !isTaken(signUp)) {
      yield { at: signUp.at, params: { who: 'whoever has signed up' }, related };
    }
  },
  message: ({ who }) => `no login takes ${who}`,
});

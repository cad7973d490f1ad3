import { accountClasses } from '../app/classes.js';
import { firstEntry, landingEntry } from '../app/landing.js';
import { check } from './check.js';

/** Every way in lands an account at the same page. */
export const landingsDiffer = check<{ who: string; login: string; other: string; way: string }>({
  meta: {
    code: 'landings-differ',
    severity: 'warning',
    title: 'Every way in lands an account at the same page.',
    why: 'Where people land depends on how they came: right after login, somewhere else after sign-up or when they open the app again.',
    cwe: null,
    mend: 'Let sign-up.lands and the page that forwards be landing, or give them the entries of landing.',
  },
  *find(facts) {
    const { landing, signUp, accounts, pages, refusals } = facts.policy;
    if (facts.policy.login === null) return;
    if (signUp?.then === 'login' && signUp.lands !== 'landing') {
      const entry = landingEntry(facts.policy, facts.holderOf(signUp.roles));
      if (entry !== null && entry.to !== signUp.lands.path) {
        const params = { who: 'a new account', login: entry.to, other: signUp.lands.path, way: 'sign-up' };
        yield {
          at: ['sign-up', 'lands'],
          params,
          related: [{ at: entry.at, message: 'the login lands here' }],
        };
      }
    }
    for (const { account } of accountClasses(accounts.values())) {
      if (account.state === 'suspended') continue;
      const entry = landingEntry(facts.policy, account);
      if (entry === null) continue;
      const related = [{ at: entry.at, message: 'the login lands here' }];
      const who = `the account ${account.name}`;
      for (const { forward, pattern } of pages) {
        const other = forward?.entries ? firstEntry(forward.entries, account) : null;
        if (other === null || other.to === entry.to || other.to === pattern.text) continue;
        const params = { who, login: entry.to, other: other.to, way: `opening ${pattern.text}` };
        yield { at: other.at, params, related };
      }
      const { guestsOnly } = refusals.page;
      const moved = guestsOnly.to === 'path' && guestsOnly.path !== entry.to ? guestsOnly.path : null;
      if (moved !== null && landing.length > 1) {
        const params = { who, login: entry.to, other: moved, way: 'coming back to a page for guests' };
        yield { at: ['refusals', 'guests-only'], params, related };
        return;
      }
    }
  },
  message: ({ who, login, other, way }) =>
    `${who} lands at ${login} after the login, but at ${other} after ${way}`,
});

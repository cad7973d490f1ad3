import { accountClasses } from '../app/classes.js';
import { firstEntry, landingEntry, type Lander } from '../app/landing.js';
import { takes } from '../app/logins.js';
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
    const { landing, logins, signUp, pages, refusals } = facts.policy;
    if (facts.policy.login === null) return;
    // A page that only sends people on is not where they end.
    const endOf = (to: string, who: Lander, seen: readonly string[] = []): string => {
      const forward = facts.route(to)?.page?.forward ?? null;
      if (forward === null || seen.includes(to)) return to;
      const next = firstEntry(forward.entries ?? landing, who);
      return next === null ? to : endOf(next.to, who, [...seen, to]);
    };
    const differ = (one: string, other: string, who: Lander) => endOf(one, who) !== endOf(other, who);
    if (signUp?.then === 'login' && signUp.lands !== 'landing') {
      const newcomer = facts.newcomer(signUp.roles);
      const entry = landingEntry(facts.policy, newcomer);
      if (entry !== null && differ(entry.to, signUp.lands.path, newcomer)) {
        const params = { who: 'a new account', login: entry.to, other: signUp.lands.path, way: 'sign-up' };
        yield {
          at: ['sign-up', 'lands'],
          params,
          related: [{ at: entry.at, message: 'the login lands here' }],
        };
      }
    }
    for (const { account } of accountClasses(facts.policy)) {
      if (account.state !== 'active' || account.key) continue;
      const way = logins.find((each) => takes(each, account));
      const entry = landingEntry(facts.policy, account, way);
      if (entry === null) continue;
      const related = [{ at: entry.at, message: 'the login lands here' }];
      const who = `the account ${account.name}`;
      for (const { forward, pattern } of pages) {
        const other = forward?.entries ? firstEntry(forward.entries, account) : null;
        if (other === null || other.to === pattern.text || !differ(entry.to, other.to, account)) continue;
        const params = { who, login: entry.to, other: other.to, way: `opening ${pattern.text}` };
        yield { at: other.at, params, related };
      }
      const guestsOnly = refusals.page['guests-only'];
      const moved =
        guestsOnly.to === 'path' && differ(entry.to, guestsOnly.path, account) ? guestsOnly.path : null;
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

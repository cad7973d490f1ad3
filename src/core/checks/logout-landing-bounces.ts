import { check } from './check.js';

/** After a logout people see the page that they are sent to. */
export const logoutLandingBounces = check<{ lands: string; to: string }>({
  meta: {
    code: 'logout-landing-bounces',
    severity: 'warning',
    title: 'After a logout people see the page that they are sent to.',
    why: 'Somebody who has just left is asked to log in again, and cannot tell whether the logout worked.',
    cwe: null,
    mend: 'Land the logout at a page for everyone, or at the login page itself.',
  },
  *find(facts) {
    const [guest] = facts.loginStates;
    for (const entry of facts.policy.logout?.lands ?? []) {
      if (guest === undefined || !facts.hasPage(entry.to)) continue;
      if (facts.mayRead(entry.to, facts.guest) === 'served') continue;
      const { browser, exchanges } = facts.visit(guest, entry.to);
      const to = browser.tab.page?.address.path ?? exchanges.at(-1)?.request.path ?? '';
      yield { at: entry.at, params: { lands: entry.to, to } };
    }
  },
  message: ({ lands, to }) => `a logout lands at ${lands}, which refuses guests; they end at ${to}`,
});

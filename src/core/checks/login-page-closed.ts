import { check } from './check.js';

/** A guest who is sent to the login page must be let in there. */
export const loginPageClosed = check<{ page: string }>({
  meta: {
    code: 'login-page-closed',
    severity: 'error',
    title: 'The login page is open to guests.',
    why: 'A guest who is refused at the login page can never sign in, and is often sent round in a circle.',
    cwe: null,
    mend: 'Give the login page the audience guests.',
  },
  *find(facts) {
    for (const { at, page } of facts.policy.logins) {
      if (!facts.hasPage(page) || facts.mayRead(page, facts.guest) === 'served') continue;
      const grounds = facts.route(page)?.grounds.at ?? [];
      yield {
        at: [...at, 'page'],
        params: { page },
        related: [{ at: grounds, message: 'this closes it' }],
      };
    }
  },
  message: ({ page }) => `guests are refused at the login page ${page}`,
});

import type { Page } from '../language/policy.js';
import { check } from './check.js';

/** A protected page is not kept for the back button. */
export const keptForBackButton = check<{ path: string | null }>({
  meta: {
    code: 'kept-for-back-button',
    severity: 'warning',
    title: 'A protected page is not kept for the back button.',
    why: 'After the logout the next person at the same browser presses back and reads what the last one saw.',
    cwe: 'CWE-525',
    mend: 'Set back-button to no-store, or leave it out.',
  },
  *find(facts) {
    const { login, logout, pages, rules, backButton } = facts.policy;
    if (login === null || logout === null) return;
    const closed = (page: Page) => {
      const who = facts.pageRoute(page)?.grounds.audience.who;
      return who === 'signed-in' || who === 'some';
    };
    const saysNothing = (page: Page) => facts.pageRoute(page)?.cache === null && closed(page);
    if (backButton === 'cached' && pages.some(saysNothing)) {
      yield { at: ['back-button'], params: { path: null } };
    }
    for (const page of pages) {
      if (page.cache === 'cached' && closed(page)) {
        yield { at: [...page.at, 'cache'], params: { path: page.pattern.text } };
      }
    }
    for (const rule of rules) {
      if (rule.cache !== 'cached') continue;
      const kept = pages.find(
        (page) => page.cache === null && facts.pageRoute(page)?.rule === rule && closed(page),
      );
      if (kept !== undefined) yield { at: [...rule.at, 'cache'], params: { path: kept.pattern.text } };
    }
  },
  message: ({ path }) => `after a logout the back button still shows ${path ?? 'protected pages'}`,
});

import { andList } from '../language/text/suggestions.js';
import { check } from './check.js';

/** A page that the app guards can know its visitor. */
export const pageNeedsSession = check<{ paths: readonly string[] }>({
  meta: {
    code: 'page-needs-session',
    severity: 'error',
    title: 'A page that the app guards can know its visitor.',
    why: 'A login that hands out tokens only gives the browser nothing that goes along with the request of a page: whoever has just logged in is asked to log in again.',
    cwe: null,
    mend: 'Set guard: browser and guard what the page loads, let the login hand out both, or keep the tokens in cookies.',
  },
  *find(facts) {
    const { login, tokens, pages } = facts.policy;
    if (login?.by !== 'tokens' || tokens?.kept === 'cookie') return;
    const found = pages.flatMap((page) => {
      const route = facts.pageRoute(page);
      if (route === null || route.kind === 'api' || route.guard === 'browser') return [];
      return facts.admits(route.grounds.audience, facts.guest) ? [] : [{ page, route }];
    });
    const [first] = found;
    if (first === undefined) return;
    yield {
      at: first.page.at,
      params: { paths: found.map(({ page }) => page.pattern.text) },
      shownBy: facts.shownBy('GET', first.route.path, 'a guest, which is what everybody is here,'),
    };
  },
  message: ({ paths }) =>
    `the app guards ${andList(paths)}, but no request of a page carries a token: nobody can ever see ${paths.length === 1 ? 'it' : 'them'}`,
});

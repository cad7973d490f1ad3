import { pathMatches } from '../browser/cookie-jar.js';
import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** The session's cookie is sent to every page that asks for it. */
export const cookieMissesPages = check<{ name: string; cookiePath: string; path: string }>({
  meta: {
    code: 'cookie-misses-pages',
    severity: 'error',
    title: 'The cookie of the session is sent to every page that asks for it.',
    why: 'A cookie with a path is sent there and below only: elsewhere a visitor who is signed in is taken for a guest.',
    cwe: null,
    mend: 'Widen the path of the cookie, or leave it out.',
  },
  *find(facts) {
    const { session, login, logout, pages } = facts.policy;
    if (login === null || !handedOut(facts.policy).includes('session')) return;
    const { name, path: cookiePath } = session.cookie;
    if (cookiePath === '/') return;
    const asking = [
      ...pages.flatMap((page) => {
        const route = facts.pageRoute(page);
        return route === null || facts.admits(route.grounds.audience, facts.guest)
          ? []
          : [{ path: page.pattern.text, sample: facts.sampleOf(page) }];
      }),
      ...(logout?.submits ?? []).map(({ path }) => ({ path, sample: path })),
    ];
    const missed = asking.find(({ sample }) => !pathMatches(sample, cookiePath));
    if (missed === undefined) return;
    yield {
      at: ['session', 'cookie', 'path'],
      params: { name, cookiePath, path: missed.path },
    };
  },
  message: ({ name, cookiePath, path }) =>
    `the cookie ${name} is sent below ${cookiePath} only: at ${path} whoever is signed in is a guest`,
});

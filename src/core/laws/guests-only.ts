import type { App } from '../app/app.js';
import type { Route } from '../app/router.js';
import type { Page } from '../language/policy.js';
import type { Law } from './law.js';

/** Pages for guests are for guests, shown and submitted. */
export const guestsOnly: Law = {
  meta: {
    name: 'guests-only',
    title: 'A page for guests is shown to, or accepts a submission from, someone signed in.',
    holds: 'Pages for guests are for guests, shown and sent.',
    mend: 'give the page one audience for both: for: guests',
    needs: {
      words: 'pages for guests',
      isThere: ({ pages, rules }) =>
        [...pages, ...rules].some(({ audiences }) =>
          [audiences.read, audiences.write].some((each) => each?.audience.who === 'guests'),
        ),
    },
    weight: 'law',
  },
  broken: ({ played, stage, book }) => {
    for (const { route, visitor, response, explanation, request } of played.exchanges) {
      if (visitor.account === null || route === null || response.status >= 400) continue;
      if (explanation.reason === 'guests-only' || route.grounds.audience.who === 'guests') continue;
      const own = route.page ?? pageOfForm(stage.app, route);
      if (own === null || !book.guestPages.has(own)) continue;
      return {
        seen: `${visitor.account} ${request.method === 'GET' ? 'is shown' : 'may send'} ${request.path}, which is for guests`,
        allowedBy: route.grounds.at,
      };
    }
    return null;
  },
};

/** The page whose form a request sends, where that is not the page it is sent to. */
function pageOfForm({ policy, router }: App, { task, login }: Route): Page | null {
  const sections = new Map([
    ['sign-up', policy.signUp?.page],
    ['code', policy.secondFactor?.page],
  ]);
  const form = task === 'login' ? login?.page : sections.get(task ?? '');
  return form === undefined ? null : (router.find('GET', form)?.page ?? null);
}

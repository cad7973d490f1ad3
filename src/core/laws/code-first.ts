import type { Audience } from '../language/policy.js';
import type { Law } from './law.js';

const asksForCode = (audience: Audience | undefined) => audience?.who === 'some' && audience.secondFactor;

/** What asks for the second factor is not shown without it. */
export const codeFirst: Law = {
  meta: {
    name: 'code-first',
    title: 'A page that needs the second factor is shown without it.',
    weight: 'law',
  },
  broken: ({ played, book, stage }) => {
    if (stage.app.policy.secondFactor === null) return null;
    for (const { route, visitor, response, request } of played.exchanges) {
      if (route === null || route.page === null || response.status >= 300 || visitor.secondFactor) continue;
      const own = route.page.guard === 'server' && asksForCode(route.grounds.audience);
      const page = book
        .loadersOf(request.method, route)
        .find((each) => asksForCode(each.audiences.read?.audience));
      if (!own && page === undefined) continue;
      const what = page === undefined ? request.path : `${request.path}, the data of ${page.pattern.text},`;
      return {
        seen: `${visitor.account ?? 'a guest'} gets ${what} without a one-time code`,
        allowedBy: route.grounds.at,
      };
    }
    return null;
  },
};

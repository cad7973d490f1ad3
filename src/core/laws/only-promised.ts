import type { Law } from './law.js';

/** Promised pages are reached by those roles only. */
export const onlyPromised: Law = {
  meta: {
    name: 'only-promised',
    title: 'A page that the policy promises to some roles only is shown to somebody else.',
    weight: 'law',
  },
  broken: ({ played, stage, book }) => {
    if (stage.app.policy.promises.length === 0) return null;
    for (const { route, visitor, response } of played.exchanges) {
      if (route === null || route.page === null || response.status >= 300) continue;
      for (const { only } of book.promisesFor(route.path)) {
        if (only === null || only.some((role) => visitor.roles.has(role))) continue;
        return {
          seen: `${visitor.account ?? 'a guest'} is shown ${route.path}, promised to ${only.join(' and ')} only`,
          allowedBy: route.grounds.at,
        };
      }
    }
    return null;
  },
};

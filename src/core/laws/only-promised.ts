import { matches, segmentsOf } from '../paths/pattern.js';
import type { Law } from './law.js';

/** Promised pages are reached by those roles only. */
export const onlyPromised: Law = {
  meta: {
    name: 'only-promised',
    title: 'A page that the policy promises to some roles only is shown to somebody else.',
    weight: 'law',
  },
  broken: ({ played, stage }) => {
    for (const promise of stage.app.policy.promises) {
      const { only, reach } = promise;
      if (only === null) continue;
      for (const { route, visitor, response } of played.exchanges) {
        if (route === null || route.page === null || response.status >= 300) continue;
        const path = segmentsOf(route.path);
        if (!reach.some((pattern) => matches(pattern, path))) continue;
        if (only.some((role) => visitor.roles.has(role))) continue;
        return {
          seen: `${visitor.account ?? 'a guest'} is shown ${route.path}, promised to ${only.join(' and ')} only`,
          allowedBy: route.grounds.at,
        };
      }
    }
    return null;
  },
};

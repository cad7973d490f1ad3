import { matches, segmentsOf } from '../paths/pattern.js';
import { check } from './check.js';

/** The pages do not contradict the promises. */
export const promiseContradicted = check<{ who: string; path: string; only: readonly string[] }>({
  meta: {
    code: 'promise-contradicted',
    severity: 'error',
    title: 'The pages do not contradict the promises.',
    why: 'The policy promises pages to some roles only, and lets others in as it stands.',
    cwe: 'CWE-863',
    mend: 'Narrow the audience of the page, or take the promise back.',
  },
  *find(facts) {
    for (const promise of facts.policy.promises) {
      const { only, reach, at } = promise;
      if (only === null) continue;
      for (const page of facts.policy.pages) {
        const route = facts.pageRoute(page);
        if (route === null || !reach.some((pattern) => matches(pattern, segmentsOf(route.path)))) continue;
        const found = facts.people.find(
          ({ visitor }) =>
            facts.admits(route.grounds.audience, visitor, route.parameters) &&
            !only.some((role) => visitor.roles.has(role)),
        );
        if (found === undefined) continue;
        yield {
          at,
          params: { who: found.who, path: page.pattern.text, only },
          related: [{ at: route.grounds.at, message: `this is whom ${page.pattern.text} is for` }],
          shownBy: facts.shownBy('GET', route.path, found.who),
        };
      }
    }
  },
  message: ({ who, path, only }) =>
    `${path} is promised to ${only.join(' and ')} only, but ${who} may see it`,
});

import { withoutStepUp } from './step-up.js';
import { apartFromPath, type Audience } from '../vocabulary/audience.js';
import { check } from './check.js';

/** The data of a page is as closed as the page. */
export const dataLaxerThanPage = check<{ who: string; path: string; data: string }>({
  meta: {
    code: 'data-laxer-than-page',
    severity: 'error',
    title: 'The data of a page is as closed as the page.',
    why: 'A page that script keeps people out of is only as closed as what it loads: requests can be made without the page.',
    cwe: 'CWE-602',
    mend: 'Give the data the audience of the page.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const route = facts.pageRoute(page);
      if (route === null) continue;
      for (const load of page.loads) {
        const data = facts.route(load.path, load.method);
        if (data === null || data.page === null) continue;
        const wide = withoutStepUp(data.grounds.audience);
        // Whether the data forgets whose it is, is looked at by a check of its own.
        const narrow = withoutStepUp(ofLoad(route.grounds.audience, load.path));
        const found = facts.admittedOnlyBy(ofLoad(wide, load.path), narrow, route.parameters);
        if (found === undefined) continue;
        yield {
          at: load.at,
          params: { who: found.who, path: page.pattern.text, data: `${load.method} ${load.path}` },
          related: [
            { at: route.grounds.at, message: 'whom the page is for' },
            { at: data.grounds.at, message: 'whom the data is for' },
          ],
        };
      }
    }
  },
  message: ({ who, path, data }) =>
    `${data}, which ${path} loads, is open to ${who}, who may not see the page`,
});

/** An audience without what it asks of a tenant, and of an owner whom the address of the data does not name: that is of whoever asks. */
function ofLoad(audience: Audience, path: string): Audience {
  const apart = apartFromPath(audience);
  if (audience.who !== 'some' || apart.who !== 'some' || audience.account === null) return apart;
  const isNamed = path.split('/').includes(`:${audience.account}`);
  return isNamed ? { ...apart, account: audience.account } : apart;
}

import { withoutStepUp } from './step-up.js';
import { type Audience } from '../vocabulary/audience.js';
import { apartFromPath } from '../audience/all-conditions.js';
import { check } from './check.js';
import { loadedData } from './loaded-data.js';

/** The data of a page is as closed as the page. */
export const dataLaxerThanPage = check<{ who: string; path: string; data: string; others: number }>({
  meta: {
    code: 'data-laxer-than-page',
    severity: 'error',
    title: 'The data of a page is as closed as the page.',
    why: 'A page that script keeps people out of is only as closed as what it loads: requests can be made without the page.',
    cwe: 'CWE-602',
    mend: 'Give the data the audience of the page.',
  },
  *find(facts) {
    for (const { data, by } of loadedData(facts)) {
      const [{ page, route, load }, ...others] = by;
      const wide = withoutStepUp(data.grounds.audience);
      // Whether the data forgets whose it is, is looked at by a check of its own.
      const narrow = by.map((each) => withoutStepUp(ofLoad(each.route.grounds.audience, each.load.path)));
      const parameters = new Map(by.flatMap((each) => [...each.route.parameters]));
      const found = facts.admittedOnlyBy(ofLoad(wide, load.path), narrow, parameters);
      if (found === undefined) continue;
      yield {
        at: load.at,
        params: {
          who: found.who,
          path: page.pattern.text,
          data: `${load.method} ${load.path}`,
          others: others.length,
        },
        related: [
          { at: route.grounds.at, message: 'whom the page is for' },
          { at: data.grounds.at, message: 'whom the data is for' },
          ...others.map((each) => ({ at: each.load.at, message: 'this loads it too' })),
        ],
      };
    }
  },
  message: ({ who, path, data, others }) =>
    others === 0
      ? `${data}, which ${path} loads, is open to ${who}, who may not see the page`
      : `${data}, which ${path} and ${others} more load, is open to ${who}, who may see none of them`,
});

/** An audience without what it asks of a tenant, and of an owner whom the address of the data does not name: that is of whoever asks. */
function ofLoad(audience: Audience, path: string): Audience {
  const apart = apartFromPath(audience);
  if (audience.who !== 'some' || apart.who !== 'some' || audience.account === null) return apart;
  const isNamed = path.split('/').includes(`:${audience.account}`);
  return isNamed ? { ...apart, account: audience.account } : apart;
}

import type { Route } from '../app/router.js';
import type { Method } from '../http/messages.js';
import type { Path } from '../language/text/yaml-text.js';
import { isOfOnePlace, WRITES, type Facts } from './facts.js';
import { check } from './check.js';

/** No method that writes is open to more people than its neighbours. */
export const methodLooser = check<{ who: string; method: string; than: string; path: string }>({
  meta: {
    code: 'method-looser',
    severity: 'warning',
    title: 'No method that writes is open to more people than the others.',
    why: 'Whoever guards POST and forgets PUT, PATCH or DELETE guards nothing: they change the same things.',
    cwe: 'CWE-650',
    mend: 'Name all of POST, PUT, PATCH and DELETE in the methods of the rule, or give the method the audience of write.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const address = facts.sampleOf(page);
      const routes = WRITES.flatMap((method) => {
        const route = facts.route(address, method);
        return route?.page === page && route.task === null ? [{ method, route }] : [];
      });
      const found = looser(facts, routes);
      if (found !== null) {
        yield {
          at: found.at,
          params: { who: found.who, method: found.method, than: found.than, path: page.pattern.text },
          related: [{ at: found.against, message: `this decides on ${found.than}` }],
          shownBy: facts.shownBy(found.method, address, found.who),
        };
      }
    }
  },
  message: ({ who, method, than, path }) => `${who} may send ${method} to ${path}, but not ${than}`,
});

interface Written {
  readonly method: Method;
  readonly route: Route;
}

interface Looser {
  readonly at: Path;
  readonly against: Path;
  readonly who: string;
  readonly method: Method;
  readonly than: Method;
}

/** A method that is laxer than another which a rule names and leaves it out of, or than the audience of all writing. */
function looser(facts: Facts, routes: readonly Written[]): Looser | null {
  for (const { method: than, route: strict } of routes) {
    for (const { method, route: lax } of routes) {
      if (method === than || strict.grounds.audience === lax.grounds.audience) continue;
      const isException = lax.page?.audiences.methods.has(method) === true;
      if (isOfOnePlace(strict.grounds, lax.grounds) && !isException) continue;
      const found = facts.standingOnlyIn(lax.grounds.audience, strict.grounds.audience, lax.parameters);
      if (found === undefined) continue;
      return { at: lax.grounds.at, against: strict.grounds.at, who: found.who, method, than };
    }
  }
  return null;
}

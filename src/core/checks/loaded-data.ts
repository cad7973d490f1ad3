import { pathOf } from '../app/endpoints.js';
import type { Route } from '../app/router.js';
import type { Endpoint, Page } from '../language/policy.js';
import type { Facts } from './facts.js';

/** A page that loads something, and what the policy says of the page. */
export interface LoadingPage {
  readonly page: Page;
  readonly route: Route;
  readonly load: Endpoint;
}

/** What pages load by script, and every page that loads it. */
export interface LoadedData {
  readonly data: Route;
  readonly by: readonly [LoadingPage, ...LoadingPage[]];
}

/** Everything that pages load, each once: what several pages show is no secret of one of them. */
export function loadedData(facts: Facts): LoadedData[] {
  const found = new Map<string, { data: Route; by: [LoadingPage, ...LoadingPage[]] }>();
  for (const page of facts.policy.pages) {
    const route = page.loads.length > 0 ? facts.pageRoute(page) : null;
    if (route === null) continue;
    for (const load of page.loads) {
      const data = facts.route(load.path, load.method);
      if (data === null || data.page === null) continue;
      // The same address, whatever its parameters are called. Others of one page may be other data.
      const key = `${load.method} ${pathOf(load.path).replace(/\/:[^/]+/g, '/:')}`;
      const known = found.get(key);
      if (known === undefined) found.set(key, { data, by: [{ page, route, load }] });
      else if (known.by.every((each) => each.page !== page)) known.by.push({ page, route, load });
    }
  }
  return [...found.values()];
}

import { stopsAt } from '../app/barriers.js';
import { check } from './check.js';

/** A barrier stops the data of the pages that it stops. */
export const barrierForgetsApi = check<{ name: string; path: string; data: string }>({
  meta: {
    code: 'barrier-forgets-api',
    severity: 'error',
    title: 'A barrier stops the data of the pages that it stops.',
    why: 'The page is stopped and what it loads is not: requests can be made without the page.',
    cwe: 'CWE-602',
    mend: 'Give the barrier a status for the api, such as api: 403.',
  },
  *find(facts) {
    const { app } = facts.stage;
    for (const barrier of facts.policy.barriers) {
      for (const page of facts.policy.pages) {
        const route = facts.pageRoute(page);
        if (route === null || !stopsAt(app, barrier, route)) continue;
        const open = page.loads.find((load) => {
          const data = facts.route(load.path, load.method);
          const who = data?.grounds.audience.who;
          // What everybody may have is no secret of the page.
          return data !== null && who !== 'everyone' && data.page !== null && !stopsAt(app, barrier, data);
        });
        if (open === undefined) continue;
        yield {
          at: barrier.at,
          params: { name: barrier.name, path: page.pattern.text, data: `${open.method} ${open.path}` },
          related: [{ at: open.at, message: 'this is what the page loads' }],
        };
        break;
      }
    }
  },
  message: ({ name, path, data }) =>
    `the barrier ${name} stops people at ${path}, but not at ${data}, which that page loads`,
});

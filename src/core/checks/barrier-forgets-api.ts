import { stopsAt } from '../app/barriers.js';
import { check } from './check.js';
import { loadedData } from './loaded-data.js';

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
    const loaded = loadedData(facts);
    for (const barrier of facts.policy.barriers) {
      const open = loaded.find(
        ({ data, by }) =>
          // What everybody may have, or a page that is let through shows, is no secret of the others.
          data.grounds.audience.who !== 'everyone' &&
          !stopsAt(app, barrier, data) &&
          by.every(({ route }) => stopsAt(app, barrier, route)),
      );
      if (open === undefined) continue;
      const [{ page, load }] = open.by;
      yield {
        at: barrier.at,
        params: { name: barrier.name, path: page.pattern.text, data: `${load.method} ${load.path}` },
        related: [{ at: load.at, message: 'this is what the page loads' }],
      };
    }
  },
  message: ({ name, path, data }) =>
    `the barrier ${name} stops people at ${path}, but not at ${data}, which that page loads`,
});

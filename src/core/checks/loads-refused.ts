import { withoutStepUp } from './step-up.js';
import { check } from './check.js';

/** Whoever may see a page may have what it loads. */
export const loadsRefused = check<{ who: string; path: string; data: string; isMissing: boolean }>({
  meta: {
    code: 'loads-refused',
    severity: 'error',
    title: 'Whoever may see a page may have what it loads.',
    why: 'The page is shown and then turns its reader away, or stays empty, since its own data is refused or missing.',
    cwe: null,
    mend: 'Give the data the audience of the page; where there is no such page, add it under pages.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const route = facts.pageRoute(page);
      if (route === null) continue;
      for (const load of page.loads) {
        const data = facts.route(load.path, load.method);
        if (data === null) continue;
        const what = `${load.method} ${load.path}`;
        const isMissing = data.page === null && data.task === null;
        const wide = withoutStepUp(route.grounds.audience);
        const found = isMissing
          ? undefined
          : facts.admittedOnlyBy(wide, withoutStepUp(data.grounds.audience), route.parameters);
        if (!isMissing && found === undefined) continue;
        yield {
          at: load.at,
          params: { who: found?.who ?? '', path: page.pattern.text, data: what, isMissing },
          related: isMissing ? [] : [{ at: data.grounds.at, message: 'whom the data is for' }],
        };
      }
    }
  },
  message: ({ who, path, data, isMissing }) =>
    isMissing
      ? `${path} loads ${data}, which is no page: it answers 404`
      : `${who} may see ${path}, but is refused ${data}, which it loads`,
});

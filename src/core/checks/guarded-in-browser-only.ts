import { pathOf } from '../app/endpoints.js';
import { check } from './check.js';

/** A page that script guards has data that the app guards. */
export const guardedInBrowserOnly = check<{ path: string }>({
  meta: {
    code: 'guarded-in-browser-only',
    severity: 'error',
    title: 'A page that script guards has data that the app guards.',
    why: 'The app gives the page to anybody; script in it only hides it. What stands in the page itself is open to whoever looks.',
    cwe: 'CWE-602',
    mend: 'Set guard to server, or let the page load what it shows and guard that.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const route = facts.pageRoute(page);
      if (route?.guard !== 'browser' || page.loads.length > 0) continue;
      const { who } = route.grounds.audience;
      // A form that guests fill in holds nothing that is to be hidden.
      if (who === 'everyone' || who === 'guests') continue;
      if (facts.forms.some((form) => pathOf(form.page) === route.path)) continue;
      const at = page.guard === null ? (route.rule?.at ?? page.at) : page.at;
      yield { at: [...at, 'guard'], params: { path: page.pattern.text } };
    }
  },
  message: ({ path }) => `${path} is given to anybody, and nothing that it shows is guarded by the app`,
});

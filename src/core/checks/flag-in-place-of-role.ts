import type { Page } from '../language/policy.js';
import { Branches } from './below.js';
import { check } from './check.js';

/** A switch of the app opens nothing to those whom the pages above are closed to. */
export const flagInPlaceOfRole = check<{ who: string; path: string; above: string }>({
  meta: {
    code: 'flag-in-place-of-role',
    severity: 'warning',
    title: 'A switch of the app opens nothing to those whom the pages above are closed to.',
    why: 'A switch says when, and not who: below a page for some, an audience that asks for the switch alone admits everybody who is signed in.',
    cwe: 'CWE-863',
    mend: 'Ask for the switch and for the role: { any: chief, flags: { trial: on } }.',
  },
  *find(facts) {
    const { pages } = facts.policy;
    const closed = new Branches<Page>();
    for (const page of pages) closed.add(page.pattern, page);
    for (const page of pages) {
      const route = facts.pageRoute(page);
      const audience = route?.grounds.audience;
      if (route === null || audience?.who !== 'some' || audience.flags.size === 0) continue;
      const { any, all, none, facts: asked, account } = audience;
      if (any !== null || all.length + none.length + asked.size > 0 || account !== null) continue;
      for (const above of closed.above(page.pattern)) {
        const narrow = facts.pageRoute(above)?.grounds;
        if (narrow?.audience.who !== 'some' || narrow.audience.any === null) continue;
        const found = facts.admittedOnlyBy(audience, narrow.audience, route.parameters);
        if (found === undefined) continue;
        yield {
          at: route.grounds.at,
          params: { who: found.who, path: page.pattern.text, above: above.pattern.text },
          related: [{ at: narrow.at, message: `this is whom ${above.pattern.text} is for` }],
        };
        break;
      }
    }
  },
  message: ({ who, path, above }) =>
    `${path} asks for a switch alone: ${who} may see it, and not ${above} above it`,
});

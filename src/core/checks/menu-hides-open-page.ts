import { check } from './check.js';

/** A page that is hidden from somebody is closed to them. */
export const menuHidesOpenPage = check<{ who: string; to: string }>({
  meta: {
    code: 'menu-hides-open-page',
    severity: 'warning',
    title: 'A page that is hidden from somebody is closed to them.',
    why: 'A link that is not shown protects nothing: addresses are typed, guessed and passed on.',
    cwe: 'CWE-425',
    mend: 'Close the page to those whom the menu hides it from, or show them the link.',
  },
  *find(facts) {
    for (const link of facts.policy.menu) {
      const route = facts.route(link.to);
      if (link.audience === null || !route?.page) continue;
      // Pages that anybody may see are hidden only to keep the menu short.
      if (route.grounds.audience.who === 'everyone' || route.grounds.audience.who === 'guests') continue;
      const found = facts.admittedOnlyBy(route.grounds.audience, link.audience.audience, route.parameters);
      if (found === undefined) continue;
      yield {
        at: link.audience.at,
        params: { who: found.who, to: link.to },
        related: [{ at: route.grounds.at, message: `this is whom ${link.to} is for` }],
      };
    }
  },
  message: ({ who, to }) => `the link to ${to} is hidden from ${who}, but the page is open to them`,
});

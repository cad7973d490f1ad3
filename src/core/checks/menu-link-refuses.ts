import { withoutStepUp } from './step-up.js';
import { check } from './check.js';

/** A menu link lets in whoever sees it. */
export const menuLinkRefuses = check<{ who: string; to: string }>({
  meta: {
    code: 'menu-link-refuses',
    severity: 'warning',
    title: 'A menu link lets in whoever sees it.',
    why: 'People follow a link that they are shown, and are refused.',
    cwe: null,
    mend: 'Give the link the audience of its page: leave for out.',
  },
  *find(facts) {
    for (const link of facts.policy.menu) {
      const route = facts.route(link.to);
      if (link.audience === null || !route?.page) continue;
      const page = route.grounds.audience;
      const found = facts.admittedOnlyBy(link.audience.audience, withoutStepUp(page), route.parameters);
      if (found === undefined) continue;
      yield {
        at: link.audience.at,
        params: { who: found.who, to: link.to },
        related: [{ at: route.grounds.at, message: `this is whom ${link.to} is for` }],
      };
    }
  },
  message: ({ who, to }) => `${who} is shown the link to ${to} and refused there`,
});

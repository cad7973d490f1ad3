import { withoutStepUp } from './step-up.js';
import { partRequests } from './part-requests.js';
import { check } from './check.js';

/** A part of a page sends what its reader may send. */
export const partRequestRefused = check<{ who: string; part: string; request: string }>({
  meta: {
    code: 'part-request-refused',
    severity: 'warning',
    title: 'A part of a page sends what its reader may send.',
    why: 'People see a button, press it, and are refused.',
    cwe: null,
    mend: 'Give the part the audience of its request, or open the request to those who see the part.',
  },
  *find(facts) {
    for (const { page, part, sends, route } of partRequests(facts)) {
      const reads = facts.pageRoute(page);
      if (reads === null) continue;
      const shown = [part.audience.audience, reads.grounds.audience];
      const sent = withoutStepUp(route.grounds.audience);
      const found = facts.firstOf(
        [...shown, sent],
        reads.parameters,
        (isIn) => shown.every(isIn) && !isIn(sent),
      );
      if (found === undefined) continue;
      yield {
        at: part.audience.at,
        params: { who: found.who, part: part.name, request: `${sends.method} ${sends.path}` },
        related: [{ at: route.grounds.at, message: 'this is whom the request is for' }],
      };
    }
  },
  message: ({ who, part, request }) =>
    `${who} sees the part ${part} and is refused ${request}, which it sends`,
});

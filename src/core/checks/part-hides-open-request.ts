import { partRequests, type PartRequest } from './part-requests.js';
import { check } from './check.js';

/** A request that a part hides from somebody is closed to them. */
export const partHidesOpenRequest = check<{ who: string; part: string; request: string }>({
  meta: {
    code: 'part-hides-open-request',
    severity: 'error',
    title: 'A request that a part of a page hides from somebody is closed to them.',
    why: 'A button that is not shown protects nothing: whoever knows the request sends it without the page.',
    cwe: 'CWE-425',
    mend: 'Close the request to those from whom the part is hidden, or show it to them.',
  },
  *find(facts) {
    const byRequest = new Map<string, PartRequest[]>();
    for (const each of partRequests(facts)) {
      const name = `${each.sends.method} ${each.sends.path}`;
      byRequest.set(name, [...(byRequest.get(name) ?? []), each]);
    }
    for (const [request, same] of byRequest) {
      const [first] = same;
      if (first === undefined) continue;
      const { page, part, sends, route } = first;
      const { who } = route.grounds.audience;
      // What anybody may send is hidden only to keep the page short.
      if (who === 'everyone' || who === 'guests') continue;
      const sent = route.grounds.audience;
      const shown = same.map((each) => {
        const reads = facts.pageRoute(each.page)?.grounds.audience;
        return reads === undefined ? [each.part.audience.audience] : [each.part.audience.audience, reads];
      });
      const found = facts.firstOf(
        [sent, ...shown.flat()],
        facts.pageRoute(page)?.parameters ?? route.parameters,
        (isIn) => isIn(sent) && !shown.some((each) => each.every(isIn)),
      );
      if (found === undefined) continue;
      yield {
        at: part.audience.at,
        params: { who: found.who, part: part.name, request },
        related: [{ at: route.grounds.at, message: 'this is whom the request is for' }],
        shownBy: facts.shownBy(sends.method, sends.path, found.who),
      };
    }
  },
  message: ({ who, part, request }) =>
    `the part ${part} is hidden from ${who}, but ${request}, which it sends, is open to them`,
});

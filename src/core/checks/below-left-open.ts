import type { Page, Rule, StatedAudience } from '../language/policy.js';
import type { Pattern } from '../paths/pattern.js';
import { Branches } from './below.js';
import { check } from './check.js';
import { decidedBy } from './facts.js';

/** What lies below a closed address is closed too. */
export const belowLeftOpen = check<{ who: string; path: string; above: string }>({
  meta: {
    code: 'below-left-open',
    severity: 'warning',
    title: 'What lies below a closed address is closed too.',
    why: 'A path without ** matches itself and nothing below it: what lies there is decided by whatever comes next.',
    cwe: 'CWE-863',
    mend: 'Write the path with /** at its end, or give what lies below an audience of its own.',
  },
  *find(facts) {
    const { pages, rules } = facts.policy;
    const closed = new Branches<Closed>();
    for (const each of [...rules.flatMap(closedRule), ...pages.flatMap(closedPage)]) {
      closed.add(each.pattern, each);
    }
    for (const page of pages) {
      const route = facts.pageRoute(page);
      if (route === null || route.grounds.by === 'page') continue;
      for (const { pattern, stated } of closed.above(page.pattern)) {
        if (stated.at === route.grounds.at) continue;
        if (facts.admits(stated.audience, facts.guest)) continue;
        const found = facts.admittedOnlyBy(route.grounds.audience, stated.audience, route.parameters);
        if (found === undefined) continue;
        yield {
          at: stated.at,
          params: { who: found.who, path: page.pattern.text, above: pattern.text },
          related: decidedBy(route.grounds, `this decides on ${page.pattern.text}`),
          shownBy: facts.shownBy('GET', facts.sampleOf(page), found.who),
        };
        break;
      }
    }
  },
  message: ({ who, path, above }) => `${above} is closed, but ${path} below it is open to ${who}`,
});

interface Closed {
  readonly pattern: Pattern;
  readonly stated: StatedAudience;
}

function closedRule({ patterns, audiences: { read } }: Rule): Closed[] {
  return read === null ? [] : patterns.map((pattern) => ({ pattern, stated: read }));
}

function closedPage({ pattern, audiences: { read } }: Page): Closed[] {
  return read === null ? [] : [{ pattern, stated: read }];
}

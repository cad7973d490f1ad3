import type { Pattern } from '../paths/pattern.js';
import { check } from './check.js';

/** A page does not let in whom the rule for its addresses keeps out. */
export const pageLooserThanRule = check<{ who: string; path: string; rule: number }>({
  meta: {
    code: 'page-looser-than-rule',
    severity: 'warning',
    title: 'A page does not let in whom the rule for its addresses keeps out.',
    why: 'A page goes before the rules. Whoever reads the rule believes that it protects everything it matches.',
    cwe: 'CWE-863',
    mend: 'Narrow the audience of the page, or put an exception before the rule where everybody sees it.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const own = page.audiences.read;
      const route = facts.pageRoute(page);
      const rule = route?.rule ?? null;
      const stated = rule?.audiences.read ?? null;
      if (own === null || route === null || rule === null || stated === null) continue;
      // A login page must let guests in, and a rule for everything is no more than another otherwise.
      if (own.audience.who === 'guests' || rule.patterns.some(isEverything)) continue;
      const found = facts.admittedOnlyBy(own.audience, stated.audience, route.parameters);
      if (found === undefined) continue;
      yield {
        at: own.at,
        params: { who: found.who, path: page.pattern.text, rule: rule.number },
        related: [{ at: stated.at, message: `rule ${rule.number} keeps them out` }],
      };
    }
  },
  message: ({ who, path, rule }) => `${path} lets ${who} in, whom rule ${rule} keeps out`,
});

function isEverything({ segments, tail }: Pattern): boolean {
  return tail && segments.length === 0;
}

import type { Pattern } from '../paths/pattern.js';
import { check } from './check.js';

/** A page does not let in whom the rule for its addresses keeps out. */
export const pageLooserThanRule = check<{
  pages: readonly { readonly who: string; readonly path: string; readonly rule: number }[];
}>({
  meta: {
    code: 'page-looser-than-rule',
    severity: 'advice',
    title: 'A page does not let in whom the rule for its addresses keeps out.',
    why: 'A page goes before the rules. Whoever reads the rule believes that it protects everything it matches.',
    cwe: 'CWE-863',
    mend: 'Narrow the audience of the page, or put an exception before the rule where everybody sees it.',
  },
  *find(facts) {
    const found = facts.policy.pages.flatMap((page) => {
      const own = page.audiences.read;
      const route = facts.pageRoute(page);
      const rule = route?.rule ?? null;
      const stated = rule?.audiences.read ?? null;
      if (own === null || route === null || rule === null || stated === null) return [];
      // A login page must let guests in, and a rule for everything is no more than another otherwise.
      if (own.audience.who === 'guests' || rule.patterns.some(isEverything)) return [];
      const who = facts.admittedOnlyBy(own.audience, stated.audience, route.parameters)?.who;
      return who === undefined
        ? []
        : [{ at: own.at, who, path: page.pattern.text, rule: rule.number, stated }];
    });
    const [first] = found;
    if (first === undefined) return;
    const rules = new Map(found.map(({ rule, stated }) => [rule, stated.at]));
    yield {
      at: first.at,
      params: { pages: found },
      related: [...rules].map(([rule, at]) => ({ at, message: `rule ${rule} keeps them out` })),
    };
  },
  message: ({ pages }) =>
    pages.length === 1
      ? pages.map(({ who, path, rule }) => `${path} lets ${who} in, whom rule ${rule} keeps out`).join('')
      : `${pages.length} pages let somebody in whom a rule keeps out: ${pages.map(({ who, path }) => `${path} ${who}`).join(', ')}`,
});

function isEverything({ segments, tail }: Pattern): boolean {
  return tail && segments.length === 0;
}

import { andList } from '../language/text/suggestions.js';
import { sampleAddress } from '../paths/coverage.js';
import { languageOfWholeSegments } from '../paths/regular-language.js';
import { check } from './check.js';

/** An expression stops where a segment of the path does. */
export const expressionPastSegment = check<{ source: string; caught: readonly string[] }>({
  meta: {
    code: 'expression-past-segment',
    severity: 'warning',
    title: 'An expression stops where a segment of the path does.',
    why: 'An expression without an end goes on matching: what was written for one page takes others whose names only begin alike.',
    cwe: 'CWE-777',
    mend: 'Close the expression with (/|$), or with $ where nothing may follow.',
  },
  *find(facts) {
    const addresses = facts.policy.pages.map((page) => sampleAddress(page.pattern, () => 'x'));
    for (const rule of facts.policy.rules) {
      if (rule.expression === null) continue;
      const { source, language } = rule.expression;
      const taken = addresses.filter((address) => language.has(address));
      if (taken.length === 0) continue;
      const careful = languageOfWholeSegments(source);
      if (typeof careful === 'string') continue;
      const caught = taken.filter((address) => !careful.has(address));
      // An expression that ends in the middle of a name may be meant to: then no page is named just so.
      const meant = taken.length > caught.length || /[a-z0-9)]$/i.test(source);
      if (caught.length > 0 && meant) yield { at: [...rule.at, 'matches'], params: { source, caught } };
    }
  },
  message: ({ source, caught }) => `${source} also takes ${andList(caught)}, past the end of a segment`,
});

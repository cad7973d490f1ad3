import type { Rule } from '../language/policy.js';
import { coverage, type Coverage } from '../paths/coverage.js';
import type { Pattern } from '../paths/pattern.js';
import { check } from './check.js';

/** A rule must be reached by some address. */
export const ruleNeverMatches = check<{ path: string; by: readonly number[] }>({
  meta: {
    code: 'rule-never-matches',
    severity: 'warning',
    title: 'Every rule can match something.',
    why: 'The first rule that matches decides. A rule behind broader ones is never looked at, whatever it says.',
    cwe: 'CWE-561',
    mend: 'Move the rule before those that take its addresses, or delete it.',
  },
  *find(facts) {
    const { rules } = facts.policy;
    for (const [index, rule] of rules.entries()) {
      const earlier = rules.slice(0, index);
      const patterns = earlier.flatMap((each) => each.patterns);
      for (const pattern of rule.patterns) {
        const found = coverage(pattern, patterns);
        if (!found.covered) continue;
        const by = owners(earlier, found);
        const place = rule.patterns.length === 1 ? 'path' : rule.patterns.indexOf(pattern);
        yield {
          at: place === 'path' ? [...rule.at, place] : [...rule.at, 'path', place],
          params: { path: pattern.text, by: by.map((each) => each.number) },
          related: by.map((each) => ({ at: each.at, message: `rule ${each.number} matches first` })),
        };
      }
    }
  },
  message: ({ path, by }) =>
    `no address reaches ${path}: ${by.length === 1 ? 'rule' : 'rules'} ${by.join(' and ')} ` +
    `${by.length === 1 ? 'takes' : 'take'} them all`,
});

function owners(rules: readonly Rule[], found: Extract<Coverage, { covered: true }>): Rule[] {
  const takes = (pattern: Pattern) => found.by.includes(pattern);
  return rules.filter((rule) => rule.patterns.some(takes));
}

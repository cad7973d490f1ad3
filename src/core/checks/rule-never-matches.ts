import { check } from './check.js';

/** A rule must be reached by some address. */
export const ruleNeverMatches = check<{ text: string; by: readonly number[]; sample: string | null }>({
  meta: {
    code: 'rule-never-matches',
    severity: 'warning',
    title: 'Every rule can match something.',
    why: 'The first rule that matches decides. A rule behind broader ones is never looked at, whatever it says.',
    cwe: 'CWE-561',
    mend: 'Move the rule before those that take its addresses, or delete it.',
  },
  *find(facts) {
    for (const { rule, parts } of facts.ruleParts) {
      for (const part of parts) {
        if (part.reached !== 'by none') continue;
        const own = rule.expression === null ? 'path' : 'matches';
        const by = part.takenBy;
        yield {
          at: part.index === null ? [...rule.at, own] : [...rule.at, 'path', part.index],
          params: { text: part.text, by: by.map((each) => each.number), sample: part.sample },
          related: by.map((each) => ({ at: each.at, message: `rule ${each.number} matches first` })),
        };
      }
    }
  },
  message: ({ text, by, sample }) => {
    if (by.length === 0) return `no address can match ${text}`;
    const takers = by.length === 1 ? `rule ${by.join('')} takes` : `rules ${by.join(' and ')} take`;
    return `no address reaches ${text}: ${takers} them all${sample === null || sample === text ? '' : `, ${sample} too`}`;
  },
});

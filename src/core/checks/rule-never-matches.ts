import { andList } from '../language/text/suggestions.js';
import type { Rule } from '../language/policy.js';
import { check } from './check.js';

/** A rule must be reached by some address. */
export const ruleNeverMatches = check<{
  text: string;
  by: readonly number[];
  sample: string | null;
  more: readonly number[];
}>({
  meta: {
    code: 'rule-never-matches',
    severity: 'warning',
    title: 'Every rule can match something.',
    why: 'The first rule that matches decides. A rule behind broader ones is never looked at, whatever it says.',
    cwe: 'CWE-561',
    mend: 'Move the rule before those that take its addresses, or delete it.',
  },
  *find(facts) {
    // One rule that takes everything from many is one mistake: it is told at the rule itself.
    const takenWhole = new Map<Rule, Rule[]>();
    for (const { rule, parts } of facts.ruleParts) {
      const [taker, ...others] = new Set(parts.flatMap(({ takenBy }) => takenBy));
      const isWhole = parts.every(({ reached }) => reached === 'by none');
      if (taker === undefined || others.length > 0 || !isWhole) continue;
      takenWhole.set(taker, [...(takenWhole.get(taker) ?? []), rule]);
    }
    const told = new Set<Rule>();
    for (const [taker, taken] of takenWhole) {
      if (taken.length < 3) continue;
      for (const rule of taken) told.add(rule);
      yield {
        at: taker.at,
        params: {
          text: `rules ${andList(taken.map(({ number }) => String(number)))}`,
          by: [taker.number],
          sample: null,
          more: taken.map(({ number }) => number),
        },
        related: taken
          .slice(0, 3)
          .map((rule) => ({ at: rule.at, message: `rule ${rule.number} is never reached` })),
      };
    }
    for (const { rule, parts } of facts.ruleParts) {
      for (const part of told.has(rule) ? [] : parts) {
        if (part.reached !== 'by none') continue;
        const own = rule.expression === null ? 'path' : 'matches';
        const by = part.takenBy;
        yield {
          at: part.index === null ? [...rule.at, own] : [...rule.at, 'path', part.index],
          params: { text: part.text, by: by.map((each) => each.number), sample: part.sample, more: [] },
          related: by.map((each) => ({ at: each.at, message: `rule ${each.number} matches first` })),
        };
      }
    }
  },
  message: ({ text, by, sample, more }) => {
    if (more.length > 0) return `rule ${by.join('')} takes all addresses of ${text}, which are never reached`;
    if (by.length === 0) return `no address can match ${text}`;
    const takers = by.length === 1 ? `rule ${by.join('')} takes` : `rules ${by.join(' and ')} take`;
    return `no address reaches ${text}: ${takers} them all${sample === null || sample === text ? '' : `, ${sample} too`}`;
  },
});

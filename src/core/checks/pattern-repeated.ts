import { coverage } from '../paths/coverage.js';
import { check } from './check.js';

/** No pattern of a rule is covered by its others. */
export const patternRepeated = check<{ text: string; number: number }>({
  meta: {
    code: 'pattern-repeated',
    severity: 'advice',
    title: 'No pattern of a rule is covered by its others.',
    why: 'Two patterns for the same addresses look as if they did different things, and one of them will be forgotten when the other is changed.',
    cwe: null,
    mend: 'Leave out the pattern that the others cover.',
  },
  *find(facts) {
    for (const rule of facts.policy.rules) {
      for (const [index, pattern] of rule.patterns.entries()) {
        // Of two that cover each other only the later is told.
        const others = rule.patterns.filter(
          (other, at) => at < index || (at > index && !coverage(other, [pattern]).covered),
        );
        if (rule.patterns.length < 2 || !coverage(pattern, others).covered) continue;
        yield {
          at: [...rule.at, 'path', index],
          params: { text: pattern.text, number: rule.number },
        };
      }
    }
  },
  message: ({ text, number }) =>
    `${text} adds nothing to rule ${number}: its other patterns cover the same addresses`,
});

import { check } from './check.js';

/** It can be settled whether every rule is reached. */
export const ruleUnsettled = check<{ text: string }>({
  meta: {
    code: 'rule-unsettled',
    severity: 'advice',
    title: 'It can be settled whether every rule is reached.',
    why: 'Expressions that are very intricate together cannot be compared within reason, so an unreachable rule might hide among them.',
    cwe: null,
    mend: 'Write the rule, or those before it, with simpler expressions or with paths.',
  },
  *find(facts) {
    for (const { rule, parts } of facts.ruleParts) {
      for (const part of parts) {
        if (part.reached === 'unsettled') yield { at: rule.at, params: { text: part.text } };
      }
    }
  },
  message: ({ text }) =>
    `whether any address reaches ${text} could not be settled: the rules before it are too intricate`,
});

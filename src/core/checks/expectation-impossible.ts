import { impossibilities } from './impossibilities.js';
import { check } from './check.js';

/** What a walk expects can come about. */
export const expectationImpossible = check<{ expected: string; because: string }>({
  meta: {
    code: 'expectation-impossible',
    severity: 'error',
    title: 'What a walk expects can come about.',
    why: 'An expectation that no state of the app can meet fails for ever, or was meant for another policy.',
    cwe: null,
    mend: 'Expect what the policy can bring about, or change the policy.',
  },
  *find(facts) {
    for (const walk of facts.walks) {
      for (const step of walk.steps) {
        for (const { key, because } of impossibilities(step, facts.policy)) {
          yield { at: [...step.at, key], input: walk.input, params: { expected: key, because } };
        }
      }
    }
  },
  message: ({ expected, because }) => `${expected} can never be so: ${because}`,
});

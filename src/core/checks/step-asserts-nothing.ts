import type { Step } from '../steps/walk.js';
import { check } from './check.js';

/** A walk ends with something that must hold. */
export const stepAssertsNothing = check<{ whole: boolean }>({
  meta: {
    code: 'step-asserts-nothing',
    severity: 'advice',
    title: 'A walk ends with something that must hold.',
    why: 'A step after which nothing is expected can come out any way: the walk passes all the same.',
    cwe: null,
    mend: 'Say what must be seen after it: lands, status, seen-as, why or another expectation.',
  },
  *find(facts) {
    for (const walk of facts.walks) {
      const last = walk.steps.at(-1);
      if (last === undefined || assertsSomething(last)) continue;
      const whole = !walk.steps.some(assertsSomething);
      yield { at: whole ? walk.at : last.at, input: walk.input, params: { whole } };
    }
  },
  message: ({ whole }) =>
    whole
      ? 'nothing is expected of any step of this walk'
      : 'nothing is expected of the last step of this walk',
});

function assertsSomething(step: Step): boolean {
  return step.expectBroken.length > 0 || Object.values(step.expects).some((expected) => expected !== null);
}

import { writtenStep } from '../steps/all-steps.js';
import type { Step } from '../steps/walk.js';

/** A step as the language writes it. */
export function writtenWalkStep(step: Step): Record<string, unknown> {
  const { action, browser, connectsFrom, named, expects, expectBroken } = step;
  const { seenAs, actedBy, ...others } = expects;
  const expected = Object.entries({ ...others, 'seen-as': seenAs, 'acted-by': actedBy });
  return {
    [action.verb]: writtenStep(action),
    ...('from' in action && action.from !== null ? { from: action.from } : {}),
    ...(browser === 'browser' ? {} : { in: browser }),
    ...(connectsFrom === null ? {} : { 'connects-from': connectsFrom }),
    ...(named === null ? {} : { named }),
    ...Object.fromEntries(expected.filter(([, value]) => value !== null)),
    ...(expectBroken.length === 0 ? {} : { 'expect-broken': expectBroken }),
  };
}

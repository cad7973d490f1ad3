import { writtenStep } from '../steps/all-steps.js';
import type { Step } from '../steps/walk.js';

/** A step as the language writes it, without what it expects. */
export function writtenWalkStep({
  action,
  browser,
  connectsFrom,
  expects,
  expectBroken,
}: Step): Record<string, unknown> {
  return {
    [action.verb]: writtenStep(action),
    ...('from' in action && action.from !== null ? { from: action.from } : {}),
    ...(browser === 'browser' ? {} : { in: browser }),
    ...(connectsFrom === null ? {} : { 'connects-from': connectsFrom }),
    ...(expects.seenAs === null ? {} : { 'seen-as': expects.seenAs }),
    ...(expectBroken.length === 0 ? {} : { 'expect-broken': expectBroken }),
  };
}

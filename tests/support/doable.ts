import { isAdministration } from '../../src/core/steps/all-steps';
import type { Step, Walk } from '../../src/core/steps/walk';

/** What a person can do at a browser, besides asking whoever keeps the app to do something. */
const DOABLE = new Set<Step['action']['verb']>([
  'visit',
  'follow',
  'send',
  'login',
  'code',
  'sign-up',
  'confirm',
  'change-password',
  'ask-reset',
  'reset',
  'ask-link',
  'open-link',
  'logout',
  'reload',
  'back',
  'wait',
  'new-tab',
  'duplicate-tab',
  'close-tab',
  'close-browser',
  'open-browser',
  'clear-cookies',
]);

/** Whether a person could do a walk: without a stolen credential, another network or requests of one instant. */
export function isDoable(walk: Walk): boolean {
  return walk.steps.every(
    ({ action, connectsFrom }) =>
      connectsFrom === null &&
      !(action.verb === 'send' && action.key !== undefined) &&
      (isAdministration(action) || DOABLE.has(action.verb)),
  );
}

import { isSameSite } from '../http/site.js';
import type { Stage } from '../play/stage.js';
import type { StepResult, WalkResult } from '../walks/runner.js';
import { givenBy, hasTrait, requestOf } from '../steps/asking.js';

/** By what a walk is played: by plain requests, or by a real browser. */
export type Driver = 'http' | 'browser';

/**
 * By what a walk is to be played so that all of it is judged: by requests where they tell everything; in a browser where script, the
 * back button or what a cookie leaves unsaid decides; by both where neither tells all.
 */
export function driversFor(stage: Stage, { steps }: WalkResult): readonly Driver[] {
  const asksBrowser = steps.some((step) => isOfScript(step) || isOfBrowser(stage, step));
  if (!asksBrowser) return ['http'];
  return steps.some((step) => isOfRequests(stage, step)) ? ['http', 'browser'] : ['browser'];
}

/** Whether script of the app decides what is seen. */
function isOfScript({ played: { exchanges, browser, refusedByScript } }: StepResult): boolean {
  const { page } = browser.tab;
  return (
    refusedByScript !== null ||
    exchanges.some(({ purpose }) => purpose === 'login' || purpose === 'refresh') ||
    (page !== null && page.script !== null)
  );
}

/** Whether it is the browser that decides: what it shows again, and which cookies another site can have sent. */
function isOfBrowser({ app: { policy } }: Stage, { step: { action } }: StepResult): boolean {
  if (hasTrait(action, 'shows-kept')) return true;
  const isFromElsewhere = 'from' in action && action.from !== null;
  const { session, remember } = policy;
  return isFromElsewhere && (session.cookie.sameSite === 'unset' || remember?.cookie.sameSite === 'unset');
}

/**
 * Whether nobody at a browser can do it: renew tokens by hand, hand on what script keeps, come from another network or from a page
 * of the app's own site, or be a machine.
 */
function isOfRequests(
  { app: { policy } }: Stage,
  { step: { action, connectsFrom }, played: { exchanges } }: StepResult,
): boolean {
  const from = 'from' in action ? action.from : null;
  const [asked, given] = [requestOf(action), givenBy(action)];
  if (from !== null && isSameSite(from, policy.origin)) return true;
  if (connectsFrom !== null || (asked !== null && asked.key !== null)) return true;
  if (given !== null) return given.what === 'access' || given.what === 'refresh';
  if (asked?.isOpened === false && exchanges.some(({ purpose }) => purpose === 'refresh')) return true;
  return exchanges.some(({ request }) => request.client !== exchanges[0]?.request.client);
}

// Step 3 of docs/proof-method.md: what is tried.

import { isAdministration } from '../../steps/all-steps.js';
import type { BrowserState } from '../../browser/state.js';
import type { Account, Policy } from '../../language/policy.js';
import { THIEF, type Cast } from './cast.js';
import type { Move } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';

/** Whether the cast has a move in a situation: a thief has one thing at a time, an administrator changes one account. */
export function isOpen(policy: Policy, cast: Cast, situation: Situation, { browser, action }: Move): boolean {
  const { browsers, state } = situation;
  if (action.verb === 'copy') return browsers.has(browser) && !browsers.has(THIEF);
  if (isAdministration(action)) {
    return action.verb === 'restart-app' || isOnlyChanged(policy, state.accounts, action.account);
  }
  if (browser === THIEF) return browsers.has(THIEF);
  const held = browsers.get(browser);
  const behind = held?.behind.length ?? 0;
  // Without tokens nothing is renewed: calls at the same time come to no more than one by one.
  if (action.verb === 'together' && !mayRenew(held)) return false;
  if (action.verb === 'new-tab') return behind < cast.tabs - 1;
  const needsTwo =
    action.verb === 'close-tab' || (action.verb === 'together' && action.calls[1]?.tab === 'behind');
  return !needsTwo || behind > 0;
}

function mayRenew(browser: BrowserState | undefined): boolean {
  return browser !== undefined && [browser.tab, ...browser.behind].some(({ tokens }) => tokens !== null);
}

/** Whether no account but one differs from what the policy says. */
export function isOnlyChanged(
  policy: Policy,
  accounts: ReadonlyMap<string, Account>,
  but: string | null,
): boolean {
  if (accounts === policy.accounts) return true;
  for (const [name, account] of policy.accounts) {
    if (name !== but && accounts.get(name) !== account) return false;
  }
  return true;
}

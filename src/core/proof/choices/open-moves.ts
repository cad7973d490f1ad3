// Step 3 of docs/proof-method.md: what is tried.

import { isAdministration } from '../../steps/all-steps.js';
import type { BrowserState } from '../../browser/state.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { isTried } from './account-changes.js';
import { THIEF, type Cast } from './cast.js';
import { isNobodyIn } from '../situations/keys-left.js';
import type { Move } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';

/** Whether the cast has a move in a situation: a thief has one thing at a time, an administrator changes one account. */
export function isOpen(stage: Stage, cast: Cast, situation: Situation, { browser, action }: Move): boolean {
  const { policy } = stage.app;
  const { browsers, state } = situation;
  if (action.verb === 'copy') return browsers.has(browser) && !browsers.has(THIEF);
  if (action.verb === 'send' && action.key !== undefined) return isNobodyIn(situation);
  if (isAdministration(action)) {
    if (action.verb === 'restart-app') return true;
    if (action.verb === 'set-flag') return isTried(stage, cast, state, action);
    if (!isOnlyChanged(policy, state.accounts, action.account)) return false;
    const isChange = action.verb === 'set-roles' || action.verb === 'set-facts';
    return !isChange || isTried(stage, cast, state, action);
  }
  if (browser === THIEF) return browsers.has(THIEF) || action.verb === 'ask-link';
  const held = browsers.get(browser);
  const behind = held?.behind.length ?? 0;
  // Without tokens nothing is renewed: calls at the same time come to no more than one by one.
  if (action.verb === 'together' && !mayRenew(held)) return false;
  if (action.verb === 'duplicate-tab' && held?.tab.tokens === null) return false;
  if (action.verb === 'new-tab' || action.verb === 'duplicate-tab') return behind < cast.tabs - 1;
  const needsTwo =
    action.verb === 'close-tab' || (action.verb === 'together' && action.calls[1]?.tab === 'behind');
  return !needsTwo || behind > 0;
}

function mayRenew(browser: BrowserState | undefined): boolean {
  return browser !== undefined && [browser.tab, ...browser.behind].some(({ tokens }) => tokens !== null);
}

/** Whether no account but one differs from what the policy says, but for facts, which people change too. */
export function isOnlyChanged(
  policy: Policy,
  accounts: ReadonlyMap<string, Account>,
  but: string | null,
): boolean {
  if (accounts === policy.accounts) return true;
  for (const [name, account] of policy.accounts) {
    if (name !== but && !isUntouched(accounts.get(name), account)) return false;
  }
  return true;
}

function isUntouched(now: Account | undefined, was: Account): boolean {
  if (now === was) return true;
  return now?.given === was.given && now.password === was.password && now.state === was.state;
}

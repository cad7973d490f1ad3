// Step 3 of docs/proof-method.md: what is tried.

import { isAdministration } from '../../steps/all-steps.js';
import { NEW_BROWSER } from '../../browser/state.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { isTried } from './account-changes.js';
import { THIEF, type Cast } from './cast.js';
import { isNobodyIn } from '../situations/keys-left.js';
import type { Move } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';
import { givenBy, hasTrait, isWorthTrying, requestOf } from '../../steps/asking.js';

/** Whether the cast has a move in a situation: a thief has one thing at a time, an administrator changes one account. */
export function isOpen(stage: Stage, cast: Cast, situation: Situation, { browser, action }: Move): boolean {
  const { policy } = stage.app;
  const { browsers, state } = situation;
  if (givenBy(action) !== null) return browsers.has(browser) && !browsers.has(THIEF);
  if ((requestOf(action)?.key ?? null) !== null) return isNobodyIn(situation);
  if (isAdministration(action)) {
    if ('flags' in action) return isTried(stage, cast, state, action);
    if (!('account' in action)) return true;
    if (!isOnlyChanged(policy, state.accounts, action.account)) return false;
    return !('roles' in action || 'facts' in action) || isTried(stage, cast, state, action);
  }
  if (browser === THIEF) return browsers.has(THIEF) || hasTrait(action, 'asks-sign-in-link');
  return isWorthTrying(action, browsers.get(browser) ?? NEW_BROWSER, cast.tabs);
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

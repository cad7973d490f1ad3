// Step 3 of docs/proof-method.md: what is tried.

import { isActedFor, mayAct } from '../../app/acting.js';
import { accountClasses } from '../../app/classes.js';
import type { Account, Endpoint } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import type { Move } from '../situations/moves.js';
import { actedForViewers } from './viewers.js';
import { requestKeysOf } from './requests.js';

/**
 * Of the accounts for which some others may act one of each kind: requests are answered alike to whoever acts for any of the kind. An
 * account acts for others as far as the policy's own roles let it; where they let nobody, as far as any may be given.
 *
 * @param isOne whether one stands for all: what becomes of whoever acts does not hang on for whom
 */
export function actedForBy(stage: Stage, actors: readonly Account[], isOne: boolean): readonly Account[] {
  const { policy } = stage.app;
  const rules = policy.impersonation;
  if (rules === null || !actors.some((each) => isActor(stage, each))) return [];
  const real = [...policy.accounts.values()].filter((each) => isActedFor(rules, each));
  const kinds = new Map<string, Account>();
  for (const { account, accounts } of accountClasses(policy, real)) {
    // Nobody acts for themselves.
    const target = actors.length > 1 ? account : accounts.find(({ name }) => name !== actors[0]?.name);
    if (target === undefined) continue;
    const viewers = { all: actedForViewers(stage, [target]), canChange: true };
    const key = [...requestKeysOf(stage, [target], viewers)].sort().join('\n');
    if (!kinds.has(key)) kinds.set(key, target);
  }
  return isOne ? [...kinds.values()].slice(0, 1) : [...kinds.values()];
}

/** Whether an account is one of those that act for others. */
export function isActor({ app: { policy } }: Stage, { roles, key, state }: Account): boolean {
  const rules = policy.impersonation;
  if (rules === null || key || state !== 'active') return false;
  if (mayAct(rules, roles)) return true;
  return ![...policy.accounts.values()].some(
    (each) => each.state === 'active' && !each.key && mayAct(rules, each.roles),
  );
}

/** What starts to act for an account. */
export function startFor({ method, path }: Endpoint, { name }: Account): Move['action'] {
  const address = path.replace(/:[^/]+/, encodeURIComponent(name.toWellFormed()));
  return { verb: 'send', method, address, from: null };
}

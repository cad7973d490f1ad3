import type { Account, Policy } from '../language/policy.js';
import type { Reason } from './reasons.js';
import { changed, changedRecord, type AppState } from './app.js';

/** An app in which somebody with access to it changed an account, or took it away by giving null. What is not there is left alone. */
export function withAccount(
  state: AppState,
  name: string,
  change: (account: Account) => Account | null,
): AppState {
  const account = state.accounts.get(name);
  if (account === undefined) return state;
  const accounts = new Map(state.accounts);
  const after = change(account);
  if (after === null) accounts.delete(name);
  else accounts.set(name, after);
  return changed(state, { accounts });
}

/** An account with other roles, and all that these include. */
export function withRoles({ roles }: Policy, account: Account, given: readonly string[]): Account {
  const held = given.flatMap((name) => [...(roles.get(name)?.holds ?? [])]);
  return { ...account, given, roles: new Set(held) };
}

/** Sessions in the app's memory do not outlive it; what a store or a sealed cookie keeps does. */
export function restarted(policy: Policy, state: AppState): AppState {
  if (policy.session.kept !== 'memory') return state;
  const ended: Reason = 'session-lost';
  return changed(state, { sessions: state.sessions.map((record) => changedRecord(record, { ended })) });
}

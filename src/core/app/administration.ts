import type { Account, Policy } from '../language/policy.js';
import { owesByRole, rolesHeld } from '../language/people-reader.js';
import type { Facts } from '../vocabulary/audience.js';
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
  if (after !== null) return changed(state, { accounts: accounts.set(name, after) });
  accounts.delete(name);
  if (!state.joined.has(name)) return changed(state, { accounts });
  const joined = new Map(state.joined);
  joined.delete(name);
  return changed(state, { accounts, joined });
}

/** Facts of which some were changed; one without any value is taken away. */
export function changedFacts(facts: Facts, changes: Facts): Facts {
  const after = new Map([...facts, ...changes]);
  for (const [name, values] of changes) if (values.length === 0) after.delete(name);
  return after;
}

/** An account some of whose facts were changed. */
export function withFacts(account: Account, changes: Facts): Account {
  return { ...account, facts: changedFacts(account.facts, changes) };
}

/** An app with some of its switches put otherwise. */
export function switched(state: AppState, stands: ReadonlyMap<string, boolean>): AppState {
  const flags = new Set(state.flags);
  for (const [name, isOn] of stands) {
    if (isOn) flags.add(name);
    else flags.delete(name);
  }
  return changed(state, { flags });
}

/** An account with other roles, and all that these include. */
export function withRoles(
  { roles, secondFactor }: Policy,
  account: Account,
  given: readonly string[],
): Account {
  const held = rolesHeld(given, roles);
  const owes = account.alwaysOwesCode || owesByRole(secondFactor?.of ?? [], held);
  return { ...account, given, roles: held, secondFactor: owes };
}

/** Sessions in the app's memory do not outlive it; what a store or a sealed cookie keeps does. */
export function restarted(policy: Policy, state: AppState): AppState {
  if (policy.session.kept !== 'memory') return state;
  const ended: Reason = 'session-lost';
  return changed(state, { sessions: state.sessions.map((record) => changedRecord(record, { ended })) });
}

import type { Policy } from '../language/policy.js';
import { changed, changedRecord, type AppState } from './app.js';
import type { Reason } from './reasons.js';

/** What somebody with access to the app itself does to it, between two requests. */
export type Administration =
  | { readonly verb: 'suspend' | 'delete-account'; readonly account: string }
  | { readonly verb: 'set-roles'; readonly account: string; readonly roles: readonly string[] }
  | { readonly verb: 'set-password'; readonly account: string; readonly password: string }
  | { readonly verb: 'restart-app' };

const VERBS: ReadonlySet<string> = new Set<Administration['verb']>([
  'suspend',
  'delete-account',
  'set-roles',
  'set-password',
  'restart-app',
]);

/** Whether something is done to the app itself, and not by a browser. */
export function isAdministration<Verb extends { readonly verb: string }>(
  action: Verb,
): action is Extract<Verb, Administration> {
  return VERBS.has(action.verb);
}

/** The state of an app after it was administered. What is not there is left alone. */
export function administer(policy: Policy, state: AppState, what: Administration): AppState {
  if (what.verb === 'restart-app') return restarted(policy, state);
  const account = state.accounts.get(what.account);
  if (account === undefined) return state;
  const accounts = new Map(state.accounts);
  switch (what.verb) {
    case 'suspend':
      accounts.set(account.name, { ...account, state: 'suspended' });
      break;
    case 'delete-account':
      accounts.delete(account.name);
      break;
    case 'set-password':
      accounts.set(account.name, { ...account, password: what.password });
      break;
    case 'set-roles': {
      const held = what.roles.flatMap((name) => [...(policy.roles.get(name)?.holds ?? [])]);
      accounts.set(account.name, { ...account, given: what.roles, roles: new Set(held) });
    }
  }
  return changed(state, { accounts });
}

/** Sessions in the app's memory do not outlive it; what a store or a sealed cookie keeps does. */
function restarted(policy: Policy, state: AppState): AppState {
  if (policy.session.kept !== 'memory') return state;
  const ended: Reason = 'session-lost';
  return changed(state, { sessions: state.sessions.map((record) => changedRecord(record, { ended })) });
}

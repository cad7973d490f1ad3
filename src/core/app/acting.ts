import type { Clock } from '../time/clock.js';
import type { Account, Impersonation } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import type { App, AppState, SessionRecord } from './app.js';
import type { Route, Router } from './router.js';

/**
 * The account that whoever has a session acts for, as far as both may still be so; null for nobody.
 *
 * @param roles those of whoever has the session
 */
export function actedFor(
  { policy }: Pick<App, 'policy'>,
  state: AppState,
  record: Pick<SessionRecord, 'account' | 'acting'>,
  roles: ReadonlySet<string>,
  clock: Clock,
): Account | null {
  const rules = policy.impersonation;
  if (rules === null) return null;
  const acting = rules.kept === 'session' ? record.acting : state.acting.get(record.account ?? '');
  if (!acting || !holdsOne(rules.by, roles)) return null;
  if (rules.life !== null && clock.elapsed(acting.since, rules.life)) return null;
  const account = state.accounts.get(acting.account);
  return account !== undefined && isActedFor(rules, account) ? account : null;
}

/** Whether an account is one that others may act for. */
export function isActedFor({ of }: Impersonation, { roles, state, key }: Account): boolean {
  return state === 'active' && !key && holdsOne(of, roles);
}

/** Whether somebody may act for others. */
export function mayAct({ by }: Impersonation, roles: ReadonlySet<string>): boolean {
  return holdsOne(by, roles);
}

function holdsOne(names: readonly string[], held: ReadonlySet<string>): boolean {
  return names.some((name) => held.has(name));
}

/** The pattern that closes an address to whoever acts for somebody; -1 where none does, or nobody acts. */
export function closedWhileActing(
  rules: Impersonation | null,
  router: Router,
  { path, task }: Pick<Route, 'path' | 'task'>,
  { actedBy }: { readonly actedBy: string | null },
): number {
  if (rules === null || actedBy === null || task === 'stop-acting' || task === 'logout') return -1;
  // Whoever acts for somebody cannot go on to act for another in their name.
  if (task === 'act-for') return rules.not.length;
  return rules.not.findIndex((pattern) => router.covers(pattern, path));
}

/** The place of the policy that closes it. */
export function closedBy({ at, not, start }: Impersonation, index: number): Path {
  return index < not.length ? [...at, 'not', index] : start.at;
}

import { checkName, type Scope } from './text/name-reader.js';
import type { Facts } from '../vocabulary/audience.js';
import type { FactsText } from '../audience/written.js';
import type { PolicyText } from './policy-schema.js';
import type { Account, Role } from './policy.js';
import { problem } from './text/problems.js';
import { valueUnder } from './text/plain.js';
import type { Path } from './text/yaml-text.js';
import { Roles } from './roles-and-flags.js';

/** What roles hold grows with the square of their number. */
const MOST_ROLES = 1_000;

/** Reads the roles and follows what they include; an unknown role and a circle are reported. */
export function readRoles(text: NonNullable<PolicyText['roles']>, scope: Scope): Roles {
  const roles = new Roles(scope);
  const names = Object.keys(text);
  if (names.length > MOST_ROLES) {
    const place = scope.input.placeOfKey(['roles'], names[MOST_ROLES] ?? '');
    scope.report(problem('too-many-roles', { roles: MOST_ROLES }, place));
    return roles;
  }
  for (const [name, includes] of Object.entries(text)) {
    checkName(name, 'role', scope.input.placeOfKey(['roles'], name), scope.report);
    roles.set(name, { name, includes, holds: new Set([name]), at: ['roles', name] });
  }
  for (const role of roles.values()) {
    role.includes.forEach((name, index) => roles.resolve(name, [...role.at, index]));
  }
  for (const role of [...roles.values()]) roles.set(role.name, { ...role, holds: held(role, roles, scope) });
  return roles;
}

/** All that a role holds, found breadth first; a role that reaches itself is reported once, by its first member. */
function held(role: Role, roles: ReadonlyMap<string, Role>, scope: Scope): ReadonlySet<string> {
  const holds = new Set([role.name]);
  const cameFrom = new Map<string, string>();
  for (const name of holds) {
    for (const included of roles.get(name)?.includes ?? []) {
      if (included === role.name) reportCycle(role, name, cameFrom, [...roles.keys()], scope);
      if (!holds.has(included)) cameFrom.set(included, name);
      holds.add(included);
    }
  }
  return holds;
}

function reportCycle(
  role: Role,
  last: string,
  cameFrom: ReadonlyMap<string, string>,
  order: readonly string[],
  scope: Scope,
): void {
  const cycle = [role.name];
  for (
    let name: string | undefined = last;
    name !== undefined && name !== role.name;
    name = cameFrom.get(name)
  ) {
    cycle.splice(0, 0, name);
  }
  const first = Math.min(...cycle.map((name) => order.indexOf(name)));
  if (order.indexOf(role.name) !== first) return;
  const place = scope.input.placeOfKey(['roles'], role.name);
  scope.report(problem('role-cycle', { cycle: [role.name, ...cycle] }, place));
}

/**
 * Reads the accounts.
 *
 * @param owing the roles of which whoever holds one owes a one-time code
 */
export function readAccounts(
  text: NonNullable<PolicyText['accounts']>,
  roles: Roles,
  owing: readonly string[],
  scope: Scope,
): ReadonlyMap<string, Account> {
  const accounts = new Map<string, Account>();
  for (const [name, account] of Object.entries(text)) {
    const at: Path = ['accounts', name];
    checkName(name, 'account', scope.input.placeOfKey(['accounts'], name), scope.report);
    const given = (account.roles ?? []).map((role, index) => roles.resolve(role, [...at, 'roles', index]));
    const held = rolesHeld(given, roles);
    const always = account['second-factor'] ?? false;
    requireOneSecret(account, at, scope);
    accounts.set(name, {
      at,
      name,
      password: account.password ?? '',
      key: account.key ?? false,
      given,
      roles: held,
      facts: readFacts(account.facts ?? {}, [...at, 'facts'], scope),
      secondFactor: always || owesByRole(owing, held),
      alwaysOwesCode: always,
      state: account.state ?? 'active',
      joined: account.joined ?? null,
    });
  }
  return accounts;
}

/** People have a password, and machines a key. */
function requireOneSecret(
  { password, key }: NonNullable<PolicyText['accounts']>[string],
  at: Path,
  scope: Scope,
): void {
  const place = scope.input.placeOf(at);
  // One that is there and could not be read is told for itself.
  const written = at.reduce<unknown>(valueUnder, scope.input.value);
  const isWritten = ['password', 'key'].some((each) => valueUnder(written, each) !== undefined);
  if (!isWritten) {
    scope.report(problem('missing-key', { key: 'password', section: at.join('.') }, place));
  } else if (password !== undefined && key !== undefined) {
    const says = 'an account has one of password, for people, and key, for a machine';
    scope.report(problem('bad-value', { problem: says }, place));
  }
}

/** Reads facts of an account, which are values and nothing else. */
export function readFacts(text: FactsText, at: Path, scope: Scope): Facts {
  for (const [fact, values] of Object.entries(text)) {
    const asked = values.find((value) => value.startsWith(':'));
    if (asked === undefined) continue;
    const says = `${asked} begins with a colon, as parameters of a path do in conditions: write a value`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, fact])));
  }
  return new Map(Object.entries(text));
}

/** Whether somebody who holds some roles owes a one-time code for one of them. */
export function owesByRole(owing: readonly string[], held: ReadonlySet<string>): boolean {
  return owing.some((role) => held.has(role));
}

/** The given roles with all that they include. */
export function rolesHeld(given: readonly string[], roles: ReadonlyMap<string, Role>): ReadonlySet<string> {
  return new Set(given.flatMap((name) => [...(roles.get(name)?.holds ?? [])]));
}

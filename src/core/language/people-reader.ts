import { checkName, type Scope } from './name-reader.js';
import type { Facts } from '../vocabulary/audience.js';
import type { FactsText } from './access-schema.js';
import type { PolicyText } from './policy-schema.js';
import type { Account, Role } from './policy.js';
import { problem } from './problems.js';
import { valueUnder } from './plain.js';
import { nearest } from './suggestions.js';
import type { Path } from './yaml-text.js';

/** The roles of a policy, which report a name that is none of them. */
export class Roles extends Map<string, Role> {
  constructor(private readonly scope: Scope) {
    super();
  }

  /** The name itself; one that is not defined is reported at its place, with the nearest of the names and other words there. */
  resolve(name: string, at: Path, alsoMeant: readonly string[] = []): string {
    if (!this.has(name)) {
      const near = nearest(name, [...this.keys(), ...alsoMeant]);
      const audiences = alsoMeant.length === 0 ? null : [...this.keys()];
      this.scope.report(problem('unknown-role', { name, near, audiences }, this.scope.input.placeOf(at)));
    }
    return name;
  }
}

/** The flags of a policy, which report a name that is none of them. */
export class Flags extends Map<string, boolean> {
  constructor(
    text: NonNullable<PolicyText['flags']>,
    private readonly scope: Scope,
  ) {
    super(Object.entries(text));
    for (const name of this.keys()) {
      checkName(name, 'flag', scope.input.placeOfKey(['flags'], name), scope.report);
    }
  }

  /** How some flags are to stand; a name that is not defined is reported at its place. */
  resolve(text: Readonly<Record<string, boolean>>, at: Path): ReadonlyMap<string, boolean> {
    for (const name of Object.keys(text)) {
      if (this.has(name)) continue;
      const near = nearest(name, this.keys());
      this.scope.report(problem('unknown-flag', { name, near }, this.scope.input.placeOfKey(at, name)));
    }
    return new Map(Object.entries(text));
  }
}

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

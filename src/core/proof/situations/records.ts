// Step 2 of docs/proof-method.md: situations and moves.

import { indexOf, NO_LOGIN, type AppState } from '../../app/app.js';
import type { BrowserState } from '../../browser/state.js';
import { sameFacts } from '../../app/classes.js';
import { CREDENTIAL_KINDS } from '../../credentials/all-credentials.js';
import { loginOf } from '../../credentials/handed-out.js';
import type { Account } from '../../language/policy.js';
import { CREDENTIALS } from '../../vocabulary/credentials.js';
import type { Situation } from './situation.js';

/** The accounts to which anything that somebody holds belongs. */
export function accountsInUse({ sessions, families, remembered }: AppState): ReadonlySet<string> {
  const inUse = new Set<string>();
  for (const { account, ended } of sessions) if (ended === null && account !== null) inUse.add(account);
  for (const { account } of families) inUse.add(account);
  for (const { account } of remembered) inUse.add(account);
  return inUse;
}

/** Everything that anybody holds or that laws watch. */
export function handlesOf({ browsers, memory }: Situation): string[] {
  const handles = memory.leftBehind.map(({ handle }) => handle);
  for (const browser of browsers.values()) handles.push(...handlesHeld(browser));
  return handles;
}

/** Whose a credential is; undefined for what is no credential, and for a guest's. */
export function accountOf(state: AppState, handle: string): string | undefined {
  for (const what of CREDENTIALS) {
    const index = indexOf(what, handle);
    if (index >= 0) return CREDENTIAL_KINDS[what].ownerOf(state, index) ?? undefined;
  }
  return undefined;
}

/** Whether a credential is a refresh token that may still be exchanged. */
export function isRefreshed({ refreshTokens, families }: AppState, handle: string): boolean {
  const token = refreshTokens[indexOf('refresh', handle)];
  return token !== undefined && families[token.family]?.ended === null;
}

/**
 * The app's records that a browser can change by what it holds, and the logins that it can log out of.
 *
 * @param withOwners whether the accounts are among them, since what people write changes those
 */
export function recordsHeld(
  state: AppState,
  browser: BrowserState,
  withOwners: boolean,
): ReadonlySet<string> {
  const records = new Set<string>();
  for (const handle of handlesHeld(browser)) {
    const own = withOwners ? recordsAndOwner(state, handle) : recordsOf(state, handle);
    for (const record of own) records.add(record);
    const login = loginOf(state, handle);
    if (login !== NO_LOGIN) records.add(`login ${login}`);
  }
  return records;
}

/** The records behind a credential, and the account that it is of. */
export function recordsAndOwner(state: AppState, handle: string): readonly string[] {
  const owner = accountOf(state, handle);
  const own = recordsOf(state, handle);
  return owner === undefined ? own : [...own, `account ${owner}`];
}

/** What a browser has that the app may have handed out. */
export function handlesHeld({ cookies, tab, behind }: BrowserState): string[] {
  const handles = cookies.map(({ value }) => value);
  for (const { tokens } of [tab, ...behind]) {
    if (tokens !== null) handles.push(tokens.access, ...(tokens.refresh === null ? [] : [tokens.refresh]));
  }
  return handles;
}

/** The records behind a credential. */
export function recordsOf(state: AppState, handle: string): readonly string[] {
  for (const what of CREDENTIALS) {
    const index = indexOf(what, handle);
    if (index >= 0) return CREDENTIAL_KINDS[what].recordsOf(state, index);
  }
  return NO_RECORDS;
}

const NO_RECORDS: readonly string[] = [];

/**
 * An account as it is, but for what nothing asks of it any more: a password that was changed, and roles and facts of one that is
 * suspended, which no step undoes. One that is as it was is the same.
 */
export function asAsked(now: Account, was: Account): Account {
  const isPast = now.state === 'suspended';
  const hasRoles = now.given === was.given || now.given.join() === was.given.join();
  const hasFacts = sameFacts(now.facts, was.facts);
  const hasSame = isPast || (hasRoles && hasFacts);
  if (!hasSame) return now.password === was.password ? now : { ...now, password: was.password };
  if (now.state === was.state) return was;
  let known = inState.get(was);
  if (known === undefined) inState.set(was, (known = new Map<Account['state'], Account>()));
  let account = known.get(now.state);
  if (account === undefined) known.set(now.state, (account = { ...was, state: now.state }));
  return account;
}

/** Accounts that differ from those of the policy by their state alone. */
const inState = new WeakMap<Account, Map<Account['state'], Account>>();

/** The accounts that are known themselves where they are the same, so that nothing counts as changed. */
export function asKnown(accounts: AppState['accounts'], known: AppState['accounts']): AppState['accounts'] {
  if (accounts.size !== known.size) return accounts;
  for (const [name, account] of known) if (accounts.get(name) !== account) return accounts;
  return known;
}

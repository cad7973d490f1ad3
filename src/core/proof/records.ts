import { indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Account } from '../language/policy.js';
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

/** Whose a credential is; undefined for what is no credential. */
export function accountOf(state: AppState, handle: string): string | undefined {
  const session = state.sessions[indexOf('session', handle)];
  if (session !== undefined) return session.account ?? undefined;
  const token =
    state.accessTokens[indexOf('access', handle)] ?? state.refreshTokens[indexOf('refresh', handle)];
  if (token !== undefined) return state.families[token.family]?.account;
  return state.remembered[indexOf('remember', handle)]?.account;
}

/** Whether a credential is a refresh token that may still be exchanged. */
export function isRefreshed({ refreshTokens, families }: AppState, handle: string): boolean {
  const token = refreshTokens[indexOf('refresh', handle)];
  return token !== undefined && families[token.family]?.ended === null;
}

/** The app's records that a browser can change by what it holds. */
export function recordsHeld(state: AppState, browser: BrowserState): ReadonlySet<string> {
  const records = new Set<string>();
  for (const handle of handlesHeld(browser)) {
    for (const record of recordsOf(state, handle)) records.add(record);
  }
  return records;
}

function handlesHeld({ cookies, tab, behind }: BrowserState): string[] {
  const handles = cookies.map(({ value }) => value);
  for (const { tokens } of [tab, ...behind]) {
    if (tokens !== null) handles.push(tokens.access, ...(tokens.refresh === null ? [] : [tokens.refresh]));
  }
  return handles;
}

/** The records behind a credential. */
export function recordsOf(state: AppState, handle: string): ReadonlySet<string> {
  const records = new Set<string>();
  const family = (index: number | null | undefined) => {
    if (index !== null && index !== undefined) records.add(`family ${index}`);
  };
  const session = indexOf('session', handle);
  if (session >= 0) {
    records.add(`session ${session}`);
    family(state.sessions[session]?.family);
    return records;
  }
  family(state.accessTokens[indexOf('access', handle)]?.family);
  family(state.refreshTokens[indexOf('refresh', handle)]?.family);
  const series = state.remembered[indexOf('remember', handle)]?.series;
  if (series !== undefined) records.add(`series ${series}`);
  return records;
}

/** An account as it is, but with the password that it had. */
export function withOldPassword(now: Account, was: Account): Account {
  if (now.given === was.given && now.state === was.state) return was;
  return now.password === was.password ? now : { ...now, password: was.password };
}

/** The accounts that are known themselves where they are the same, so that nothing counts as changed. */
export function asKnown(accounts: AppState['accounts'], known: AppState['accounts']): AppState['accounts'] {
  if (accounts.size !== known.size) return accounts;
  for (const [name, account] of known) if (accounts.get(name) !== account) return accounts;
  return known;
}

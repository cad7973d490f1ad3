import { accountClasses, pageClasses } from '../app/classes.js';
import type { Method } from '../http/messages.js';
import type { Account, Page, Policy } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import { requestDeed, stageOf, type Stage } from '../play/stage.js';
import { CONDITIONS, doAs, guestState, reach, stateName, type LoginState } from './login-state.js';

/** Where every login state lands on every page. */
export interface Grid {
  readonly method: Method;
  readonly states: readonly GridState[];
  readonly rows: readonly GridRow[];
}

export interface GridState {
  readonly name: string;
  /** Other accounts of the same kind, for which it stands too. */
  readonly alike: readonly string[];
}

export interface GridRow {
  /** The page's path, with `(another's)` behind it for a page of somebody else. */
  readonly page: string;
  /** One for each state. */
  readonly cells: readonly string[];
}

/** `shown`, a refusal's status, the path landed at, or why the way ended. */
export type Cell = string;
export const SHOWN: Cell = 'shown';
/** Stands behind the path of a page that belongs to somebody else. */
export const ANOTHERS = " (another's)";

/** A state with what it takes to try pages in it. */
export interface TriedState extends GridState {
  readonly login: LoginState;
}

/**
 * The grid of a policy. States of the same kind and pages that treat everybody alike are tried once.
 *
 * @param method GET for what is shown, another for what happens to what is sent
 */
export function gridOf(policy: Policy, method: Method = 'GET'): Grid {
  const stage = stageOf(policy);
  const states = statesOf(stage);
  const rows = rowsOf(stage, states, method);
  return { method, states: states.map(({ name, alike }) => ({ name, alike })), rows };
}

/** The rows for some states, in the order of the policy's pages. */
export function rowsOf(stage: Stage, states: readonly TriedState[], method: Method): GridRow[] {
  const { policy, router } = stage.app;
  const cells = new Map<Page, readonly (readonly Cell[])[]>();
  for (const { pages, page } of pageClasses(policy, router)) {
    const route = router.find(
      method,
      sampleAddress(page.pattern, () => 'x'),
    );
    const audience = route?.grounds.audience;
    const owned = audience?.who === 'some' && audience.account !== null;
    const tried = (own: boolean) =>
      states.map(({ login }) => cellOf(stage, login, page, method, own ? login.account : null));
    const found = owned ? [tried(true), tried(false)] : [tried(true)];
    for (const each of pages) cells.set(each, found);
  }
  return policy.pages.flatMap((page) =>
    (cells.get(page) ?? []).map((row, variant) => ({
      page: page.pattern.text + (variant === 0 ? '' : ANOTHERS),
      cells: row,
    })),
  );
}

/** A guest, an account of each kind, and the first of them in every condition that the policy can bring about. */
export function statesOf(stage: Stage): TriedState[] {
  const { policy } = stage.app;
  const states: TriedState[] = [{ name: 'guest', alike: [], login: guestState(policy) }];
  const kinds = accountClasses(policy.accounts.values()).filter(({ account }) => account.state === 'active');
  for (const { accounts, account } of kinds) {
    const login = reach(stage, account, 'signed-in');
    const alike = accounts.slice(1).map(({ name }) => name);
    if (login !== null) states.push({ name: account.name, alike, login });
  }
  for (const condition of CONDITIONS.slice(1)) {
    const login = first(
      kinds.map(({ account }) => account),
      (account) => reach(stage, account, condition),
    );
    if (login !== null) states.push({ name: stateName(login), alike: [], login });
  }
  return states;
}

function first<T>(accounts: readonly Account[], find: (account: Account) => T | null): T | null {
  for (const account of accounts) {
    const found = find(account);
    if (found !== null) return found;
  }
  return null;
}

/** What becomes of somebody who asks for a page; `own` fills in the parameters of its path. */
function cellOf(stage: Stage, who: LoginState, page: Page, method: Method, own: string | null): Cell {
  const address = sampleAddress(page.pattern, () => encodeURIComponent(own ?? nobody(stage.app.policy)));
  return cellAt(stage, who, method, address);
}

/** What becomes of somebody who makes a request. */
export function cellAt(stage: Stage, who: LoginState, method: Method, address: string): Cell {
  const deed = requestDeed(stage, method, address);
  const isCall = deed.deed === 'call';
  const played = doAs(stage, who, deed);
  if (played.cutShort !== null) return played.cutShort;
  const last = played.exchanges.at(-1);
  if (last === undefined) return 'nothing';
  if (isCall && last.purpose !== 'navigate') return outcome(last.response.status);
  const shown = played.browser.tab.page;
  if (shown === null) return outcome(last.response.status);
  return shown.address.path === address || (shown.status >= 400 && last.purpose === 'navigate')
    ? outcome(shown.status)
    : shown.address.path;
}

/** A name that no account has. */
function nobody(policy: Policy): string {
  let name = 'x';
  while (policy.accounts.has(name)) name += 'x';
  return name;
}

function outcome(status: number): Cell {
  return status < 300 ? SHOWN : String(status);
}

import { roleStates, unheldRoles } from './role-states.js';
import { withAccount, withFacts } from '../app/administration.js';
import { accountClasses, ownAddress, pageClasses } from '../app/classes.js';
import { flagsAsked } from '../language/stated.js';
import { isBoundToPath } from '../audience/all-conditions.js';
import type { Method } from '../http/messages.js';
import type { Page, Policy } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import { requestDeed, stageOf, type Stage } from '../play/stage.js';
import {
  CONDITIONS,
  SHUT_OUT,
  askAs,
  asItself,
  guestState,
  holdsAnything,
  reach,
  stateName,
  type GridState,
  type LoginState,
  type TriedState,
} from './login-state.js';

/** Where every login state lands on every page. */
export interface Grid {
  readonly method: Method;
  readonly by: GridColumns;
  readonly states: readonly GridState[];
  readonly rows: readonly GridRow[];
}

export interface GridRow {
  /** The page's path, with `(another's)` behind it for a page of somebody else, or of a tenant that is not theirs. */
  readonly page: string;
  /** One for each state. */
  readonly cells: readonly string[];
}

/** `shown`, a refusal's status, the path landed at, or why the way ended. */
export type Cell = string;
export const SHOWN: Cell = 'shown';
/** Stands behind the path of a page that belongs to somebody else. */
export const ANOTHERS = " (another's)";

/** What there are columns for. */
export type GridColumns = 'accounts' | 'roles';

/**
 * The grid of a policy. States of the same kind and pages that treat everybody alike are tried once.
 *
 * @param method GET for what is shown, another for what happens to what is sent
 * @param by whether columns are for kinds of accounts, or for each role alone
 */
export function gridOf(policy: Policy, method: Method = 'GET', by: GridColumns = 'accounts'): Grid {
  const stage = stageOf(policy);
  const states = by === 'roles' ? statesOfRoles(stage) : statesOf(stage);
  const rows = rowsOf(stage, states, method);
  return {
    method,
    by,
    states: states.map(({ name, condition, alike }) => ({ name, condition, alike })),
    rows,
  };
}

/** A guest, and every role alone, signed in. */
export function presentOfRoles(stage: Stage): TriedState[] {
  return [guestOf(stage.app.policy), ...roleStates(stage)];
}

/** A guest, and every role alone in every condition that the policy can bring about, and while a switch stands otherwise. */
export function statesOfRoles(stage: Stage): TriedState[] {
  const { policy } = stage.app;
  const present = presentOfRoles(stage);
  return [
    ...present,
    ...roleStates(stage, null, CONDITIONS.slice(1)),
    ...pendingStates(policy, present),
    ...flagsAsked(policy).flatMap((flag) => present.map((each) => switched(each, flag))),
  ];
}

/** The rows for some states, in the order of the policy's pages. */
export function rowsOf(stage: Stage, states: readonly TriedState[], method: Method): GridRow[] {
  const { policy, router } = stage.app;
  const cells = new Map<Page, readonly (readonly Cell[])[]>();
  const other = nobody(policy);
  const clients = new Set(states.map(({ login }) => login.browser.client));
  for (const { pages, page } of pageClasses(policy, router)) {
    const address = sampleAddress(page.pattern, () => 'x');
    const owned = [...clients].some((client) => {
      const route = router.find(method, address, undefined, client);
      return route !== null && isBoundToPath(route.grounds.audience);
    });
    const tried = (own: boolean) =>
      states.map(({ login }) => cellOf(stage, login, page, method, own ? null : other));
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

/**
 * A guest, an account of each kind, a role that nobody holds, the first account in every condition that the policy can bring
 * about, each kind of account that is shut out and still holds something, and whoever is signed in or not while a switch of the app stands otherwise.
 */
export function statesOf(stage: Stage): TriedState[] {
  const { policy } = stage.app;
  const states: TriedState[] = [guestOf(policy)];
  const kinds = accountClasses(policy).filter(({ account }) => account.state === 'active');
  for (const { accounts, account } of kinds) {
    const login = asItself(stage, account);
    const alike = accounts.slice(1).map(({ name }) => name);
    if (login !== null) states.push({ name: account.name, condition: null, alike, login });
  }
  states.push(...roleStates(stage, unheldRoles(policy)));
  const present = [...states];
  for (const condition of CONDITIONS.slice(1)) {
    const reached = kinds.flatMap(({ account }) => reach(stage, account, condition) ?? []);
    const isOpen = SHUT_OUT.includes(condition) && reached.some((login) => holdsAnything(stage, login));
    const shown = isOpen ? reached : reached.slice(0, 1);
    states.push(...shown.map((login) => ({ name: stateName(login), condition, alike: [], login })));
  }
  states.push(...pendingStates(policy, present));
  return [...states, ...flagsAsked(policy).flatMap((flag) => present.map((each) => switched(each, flag)))];
}

/** Of each fact by which a barrier stops people, the first account that it does not stop, once it does: `ines terms-pending`. */
function pendingStates({ barriers }: Policy, present: readonly TriedState[]): TriedState[] {
  const asked = barriers.flatMap(({ stops: { audience } }) =>
    audience.who === 'some' ? [...audience.facts].map(([fact, { values }]) => [fact, values] as const) : [],
  );
  return asked.flatMap(([fact, [value, ...others]]): TriedState[] => {
    if (value === undefined) return [];
    const found = first(present, ({ login }) => {
      const account = login.state.accounts.get(login.account ?? '');
      const own = account?.facts.get(fact) ?? [];
      return account === undefined || own.some((each) => [value, ...others].includes(each))
        ? null
        : { login, account };
    });
    if (found === null) return [];
    const { login, account } = found;
    const state = withAccount(login.state, account.name, (known) =>
      withFacts(known, new Map([[fact, [value]]])),
    );
    return [
      { name: `${account.name} ${fact}-${value}`, condition: null, alike: [], login: { ...login, state } },
    ];
  });
}

function guestOf(policy: Policy): TriedState {
  return { name: 'guest', condition: null, alike: [], login: guestState(policy) };
}

/** The same while a switch of the app stands otherwise. */
function switched({ name, login }: TriedState, flag: string): TriedState {
  const flags = new Set(login.state.flags);
  const isOn = !flags.delete(flag);
  if (isOn) flags.add(flag);
  const state = { ...login.state, flags };
  return {
    name: `${name} ${flag}-${isOn ? 'on' : 'off'}`,
    condition: null,
    alike: [],
    login: { ...login, state },
  };
}

function first<Of, T>(all: readonly Of[], find: (each: Of) => T | null): T | null {
  for (const each of all) {
    const found = find(each);
    if (found !== null) return found;
  }
  return null;
}

/**
 * What becomes of somebody who asks for a page.
 *
 * @param other what stands for the parameters of its path; null: what is their own
 */
export function cellOf(
  stage: Stage,
  who: LoginState,
  page: Page,
  method: Method,
  other: string | null,
): Cell {
  return cellAt(stage, who, method, addressFor(stage, who, page, method, other));
}

/** The address at which somebody asks for a page; `other` as in `cellOf`. */
export function addressFor(
  { app }: Stage,
  who: LoginState,
  { pattern }: Page,
  method: Method,
  other: string | null,
): string {
  const account = other === null ? (who.state.accounts.get(who.account ?? '') ?? who.removed) : undefined;
  return account === undefined
    ? sampleAddress(pattern, () => other ?? nobody(app.policy))
    : ownAddress(app.router, pattern, { account: account.name, facts: account.facts }, method);
}

/** What becomes of somebody who makes a request. */
export function cellAt(stage: Stage, who: LoginState, method: Method, address: string): Cell {
  const played = askAs(stage, who, method, address);
  const isCall = who.isMachine !== true && requestDeed(stage, method, address).deed === 'call';
  if (played.cutShort !== null) return played.cutShort;
  const last = played.exchanges.at(-1);
  if (last === undefined) return 'nothing';
  // A machine follows no redirect.
  if (last.purpose === 'machine') {
    return last.response.location?.split('?')[0] ?? outcome(last.response.status);
  }
  if (isCall && last.purpose !== 'navigate') return outcome(last.response.status);
  const shown = played.browser.tab.page;
  if (shown === null) return outcome(last.response.status);
  return shown.address.path === address || (shown.status >= 400 && last.purpose === 'navigate')
    ? outcome(shown.status)
    : shown.address.path;
}

/** A name that no account has, nor any of their tenants. */
export function nobody({ accounts }: Policy): string {
  const facts = new Set([...accounts.values()].flatMap((each) => [...each.facts.values()].flat()));
  let name = 'x';
  while (accounts.has(name) || facts.has(name)) name += 'x';
  return name;
}

function outcome(status: number): Cell {
  return status < 300 ? SHOWN : String(status);
}

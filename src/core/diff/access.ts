import { accountClasses } from '../app/classes.js';
import { newAccount } from '../app/sign-up.js';
import { endsOf } from '../http/client-address.js';
import { isSafe, type Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import { stageOf, type Stage } from '../play/stage.js';
import { ANOTHERS, rowsOf, SHOWN, statesOf, type Cell } from '../grid/grid.js';
import { guestState, asItself, reach, type TriedState } from '../grid/login-state.js';
import { roleColumn, roleStates, WITHOUT_ROLE } from '../grid/role-states.js';

/** A cell that differs between two policies. */
export interface Change {
  /** null where it is the same for reading and writing. */
  readonly method: Method | null;
  readonly page: string;
  readonly state: string;
  /** null where the page exists only afterwards. */
  readonly before: Cell | null;
  /** null where the page exists no more. */
  readonly after: Cell | null;
  /** Widened: they see what neither they nor guests saw before. */
  readonly kind: 'widened' | 'narrowed' | 'moved';
}

/** A login state that only one of two policies has. */
export interface OneSided {
  readonly state: string;
  /** The pages that it is shown and a guest is not. */
  readonly opens: readonly string[];
}

/** What changes for whom between two policies. */
export interface AccessDiff {
  readonly changes: readonly Change[];
  readonly onlyBefore: readonly OneSided[];
  readonly onlyAfter: readonly OneSided[];
  readonly compared: number;
}

/** Compares where people land, reading and writing, under two policies. States are told apart by their names. */
export function compareAccess(before: Policy, after: Policy): AccessDiff {
  const [old, next] = [stageOf(before), stageOf(after)];
  const networks = endsOfNetworks([before, after]);
  const [was, is] = [allStates(old, networks), allStates(next, networks)];
  const names = comparedNames(old, next, was, is);
  const pick = (states: ReadonlyMap<string, TriedState>) =>
    names.map((name) => states.get(name)).filter((state) => state !== undefined);
  const states = { before: pick(was), after: pick(is) };
  const changes: Change[] = [];
  let compared = 0;
  for (const method of methodsTold([before, after])) {
    const [rows, later] = [rowsBy(old, states.before, method), rowsBy(next, states.after, method)];
    for (const page of new Set([...rows.keys(), ...later.keys()])) {
      states.before.forEach((state, at) => {
        const [one, other] = [cellIn(rows, page, at), cellIn(later, page, at)];
        compared++;
        if (one === other) return;
        changes.push({
          method,
          page,
          state: state.name,
          before: one,
          after: other,
          kind: kindOf(one, other, cellIn(rows, page, 0)),
        });
      });
    }
  }
  return {
    changes: withoutEchoes(changes, before, after),
    onlyBefore: onlyIn(old, was, is),
    onlyAfter: onlyIn(next, is, was),
    compared,
  };
}

function rowsBy(stage: Stage, states: readonly TriedState[], method: Method) {
  return new Map(rowsOf(stage, states, method).map((row) => [row.page, row.cells]));
}

/** The states that another policy has not, with what they open. */
function onlyIn(
  stage: Stage,
  states: ReadonlyMap<string, TriedState>,
  others: ReadonlyMap<string, TriedState>,
): OneSided[] {
  const left = [...states.values()].filter(({ name }) => !others.has(name) && !name.includes(FROM));
  if (left.length === 0) return [];
  const guest = { name: 'guest', condition: null, alike: [], login: guestState(stage.app.policy) };
  const rows = rowsOf(stage, [guest, ...left], 'GET');
  return left.map(({ name }, at) => ({
    state: name,
    opens: rows.flatMap(({ page, cells }) => (cells[at + 1] === SHOWN && cells[0] !== SHOWN ? [page] : [])),
  }));
}

/** A cell; where one's own and another's page are treated alike, there is one row for both. */
function cellIn(rows: ReadonlyMap<string, readonly Cell[]>, page: string, at: number): Cell | null {
  return (rows.get(page) ?? rows.get(page.replace(ANOTHERS, '')))?.[at] ?? null;
}

/** @param guests what a guest got before: what they were shown is widened to nobody */
function kindOf(before: Cell | null, after: Cell | null, guests: Cell | null): Change['kind'] {
  if (after === SHOWN) return guests === SHOWN ? 'moved' : 'widened';
  return before === SHOWN ? 'narrowed' : 'moved';
}

/**
 * What changes for reading and for writing alike is told once; so is what changes for a role and for an account that holds it,
 * for an account whatever has become of its login, for a guest and for those who are taken for one, and for one network as
 * for all.
 */
function withoutEchoes(changes: readonly Change[], old: Policy, next: Policy): Change[] {
  const textOf = ({ page, before, after }: Change, state: string, method: Change['method']) =>
    JSON.stringify([page, state, before, after, method]);
  const said = new Set(changes.map((change) => textOf(change, change.state, change.method)));
  return changes.flatMap((change) => {
    const { state, method } = change;
    const sources = echoedBy(state, old, next);
    if (sources.some((other) => said.has(textOf(change, other, method)))) return [];
    const [plain, other] = method === null || isSafe(method) ? READING_FIRST : WRITING_FIRST;
    if (method !== plain) return said.has(textOf(change, state, plain)) ? [] : [change];
    if (!said.has(textOf(change, state, other))) return [change];
    return method === 'GET' ? [{ ...change, method: null }] : [];
  });
}

const READING_FIRST = ['GET', 'POST'] as const;
const WRITING_FIRST = ['POST', 'GET'] as const;

/** The states whose changes stand for the same changes of this one. */
function echoedBy(state: string, old: Policy, next: Policy): string[] {
  const [elsewhere = '', network] = state.split(FROM);
  const [first = '', ...rest] = elsewhere.split(' ');
  const isRole = first === roleColumn('').trimEnd();
  const who = isRole ? roleColumn(rest[0] ?? '') : first;
  const isPlain = elsewhere === WITHOUT_ROLE || rest.length === (isRole ? 1 : 0);
  const [was, is] = [old.accounts.get(first)?.given, next.accounts.get(first)?.given];
  const given = was?.filter((role) => is?.includes(role)).map(roleColumn) ?? [];
  if (was?.length === 0 && is?.length === 0) given.push(WITHOUT_ROLE);
  return [
    ...(network === undefined ? [] : [elsewhere]),
    ...(isPlain ? [] : [who, 'guest']),
    ...(isRole ? [] : given),
  ];
}

const FROM = ' from ';

/** What somebody is called who has just signed up. */
const NEWCOMER = 'whoever signs up';

/**
 * The names of the states that both policies have, guests first. Accounts that are alike under both are compared once, and
 * what has run out only where it does so at the same time: a limit that is another is told as a setting.
 */
function comparedNames(
  old: Stage,
  next: Stage,
  was: ReadonlyMap<string, TriedState>,
  is: ReadonlyMap<string, TriedState>,
): string[] {
  const names = [...was].flatMap(([name, { login }]) =>
    is.get(name)?.login.time === login.time ? [name] : [],
  );
  const kinds = new Set(
    accountClasses(old.app.policy).flatMap(({ accounts }) => {
      const here = accounts.map((account) => next.app.policy.accounts.get(account.name));
      const known = here.filter((account) => account !== undefined);
      return accountClasses(next.app.policy, known).map(({ account }) => account.name);
    }),
  );
  return names.filter((name) => !old.app.policy.accounts.has(name) || kinds.has(name));
}

/** Reading and writing, and every other method that one of some policies tells apart. */
function methodsTold(policies: readonly Policy[]): readonly Method[] {
  const told = new Set<Method>(['GET', 'POST']);
  for (const { pages, rules } of policies) {
    for (const { answers } of pages) answers?.forEach((method) => told.add(method));
    for (const { conditions } of rules) conditions.methods?.forEach((method) => told.add(method));
    for (const { audiences } of [...pages, ...rules]) {
      for (const method of audiences.methods.keys()) told.add(method);
    }
  }
  return [...told];
}

/** The first and the last address of every network that a rule of some policies asks for: others lie on the same side of each. */
function endsOfNetworks(policies: readonly Policy[]): string[] {
  const networks = policies.flatMap(({ rules }) => rules.flatMap(({ conditions }) => conditions.from ?? []));
  return [...new Set(networks.flatMap(endsOf))];
}

/**
 * Guests, every account signed in by its own name, every role whether or not somebody holds it, guests and roles in every
 * network that matters, and the conditions as the grid has them.
 */
function allStates(stage: Stage, networks: readonly string[]): Map<string, TriedState> {
  const { policy } = stage.app;
  const guest = { name: 'guest', condition: null, alike: [], login: guestState(policy) };
  const roles = [guest, ...roleStates(stage)];
  const accounts = [...policy.accounts.values()].flatMap((account): TriedState[] => {
    const login = account.state === 'active' ? asItself(stage, account) : null;
    return login === null ? [] : [{ name: account.name, condition: null, alike: [], login }];
  });
  const elsewhere = networks.flatMap((client) =>
    roles.map(({ name, login }): TriedState => {
      const browser = { ...login.browser, client };
      return { name: `${name}${FROM}${client}`, condition: null, alike: [], login: { ...login, browser } };
    }),
  );
  const { signUp } = policy;
  // Strangers can be that by themselves: what it opens is open to everybody who asks.
  const newcomer =
    signUp &&
    reach(stage, { ...newAccount(policy, signUp, NEWCOMER, 'a password'), state: 'active' }, 'signed-in');
  const strangers = newcomer && [{ name: NEWCOMER, condition: null, alike: [], login: newcomer }];
  const states = new Map<string, TriedState>();
  for (const state of [...roles, ...(strangers ?? []), ...accounts, ...elsewhere, ...statesOf(stage)]) {
    if (!states.has(state.name)) states.set(state.name, state);
  }
  return states;
}

import { accountClasses } from '../app/classes.js';
import type { Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import { stageOf, type Stage } from '../play/stage.js';
import { ANOTHERS, rowsOf, SHOWN, statesOf, type Cell } from './grid.js';
import { guestState, asItself, type TriedState } from './login-state.js';
import { roleColumn, roleStates, unheldRoles } from './role-states.js';

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
  readonly kind: 'widened' | 'narrowed' | 'moved';
}

/** What changes for whom between two policies. */
export interface PolicyDiff {
  readonly changes: readonly Change[];
  /** Login states that only one of the two policies has, and that are therefore not compared. */
  readonly onlyBefore: readonly string[];
  readonly onlyAfter: readonly string[];
  readonly compared: number;
}

/** Compares where people land, reading and writing, under two policies. States are told apart by their names. */
export function diffPolicies(before: Policy, after: Policy): PolicyDiff {
  const [old, next] = [stageOf(before), stageOf(after)];
  const states = sharedStates(old, next);
  const changes: Change[] = [];
  let compared = 0;
  for (const method of ['GET', 'POST'] as const) {
    const was = new Map(rowsOf(old, states.before, method).map((row) => [row.page, row.cells]));
    const is = new Map(rowsOf(next, states.after, method).map((row) => [row.page, row.cells]));
    for (const page of new Set([...was.keys(), ...is.keys()])) {
      states.before.forEach((state, at) => {
        const [one, other] = [cellIn(was, page, at), cellIn(is, page, at)];
        compared++;
        if (one === other) return;
        changes.push({
          method,
          page,
          state: state.name,
          before: one,
          after: other,
          kind: kindOf(one, other),
        });
      });
    }
  }
  return { changes: withoutEchoes(changes), ...states.left, compared };
}

/** A cell; where one's own and another's page are treated alike, there is one row for both. */
function cellIn(rows: ReadonlyMap<string, readonly Cell[]>, page: string, at: number): Cell | null {
  return (rows.get(page) ?? rows.get(page.replace(ANOTHERS, '')))?.[at] ?? null;
}

function kindOf(before: Cell | null, after: Cell | null): Change['kind'] {
  if (after === SHOWN) return 'widened';
  return before === SHOWN ? 'narrowed' : 'moved';
}

/**
 * What changes for reading and for writing alike is told once, and so is what changes for an account whatever has become
 * of its login, or for a guest and for those who are taken for one.
 */
function withoutEchoes(changes: readonly Change[]): Change[] {
  const textOf = ({ page, before, after }: Change, state: string, method: Change['method']) =>
    JSON.stringify([page, state, before, after, method]);
  const said = new Set(changes.map((change) => textOf(change, change.state, change.method)));
  return changes.flatMap((change) => {
    const { state, method } = change;
    const [first = '', ...rest] = state.split(' ');
    const isRole = first === roleColumn('').trimEnd();
    const who = isRole ? roleColumn(rest[0] ?? '') : first;
    const plain = rest.length > (isRole ? 1 : 0) ? [who, 'guest'] : [];
    if (plain.some((other) => said.has(textOf(change, other, method)))) return [];
    const other = method === 'GET' ? 'POST' : 'GET';
    if (!said.has(textOf(change, state, other))) return [change];
    return method === 'GET' ? [{ ...change, method: null }] : [];
  });
}

/** The states that both policies have, in the same order, and the names of those that only one has. */
function sharedStates(old: Stage, next: Stage) {
  // A role that nobody holds under one of them is compared as if somebody did.
  const unheld = new Set([old, next].flatMap(({ app }) => unheldRoles(app.policy).map(({ name }) => name)));
  const [was, is] = [allStates(old, unheld), allStates(next, unheld)];
  const names = [...was.keys()].filter((name) => is.has(name));
  // Accounts that are alike under both policies are compared once.
  const kinds = new Set(
    accountClasses(old.app.policy).flatMap(({ accounts }) => {
      const here = accounts.map((account) => next.app.policy.accounts.get(account.name));
      const known = here.filter((account) => account !== undefined);
      return accountClasses(next.app.policy, known).map(({ account }) => account.name);
    }),
  );
  const compared = names.filter((name) => !old.app.policy.accounts.has(name) || kinds.has(name));
  const pick = (states: ReadonlyMap<string, TriedState>) =>
    compared.map((name) => states.get(name)).filter((state) => state !== undefined);
  return {
    before: pick(was),
    after: pick(is),
    left: {
      onlyBefore: [...was.keys()].filter((name) => !is.has(name)),
      onlyAfter: [...is.keys()].filter((name) => !was.has(name)),
    },
  };
}

/** Every account signed in by its own name, some roles, and the conditions as the grid has them. */
function allStates(stage: Stage, unheld: ReadonlySet<string>): Map<string, TriedState> {
  const { policy } = stage.app;
  const states = new Map<string, TriedState>();
  states.set('guest', { name: 'guest', alike: [], login: guestState(policy) });
  for (const account of policy.accounts.values()) {
    const login = account.state === 'active' ? asItself(stage, account) : null;
    if (login !== null) states.set(account.name, { name: account.name, alike: [], login });
  }
  const roles = [...policy.roles.values()].filter(({ name }) => unheld.has(name));
  for (const state of [...roleStates(stage, roles), ...statesOf(stage)]) {
    if (!states.has(state.name)) states.set(state.name, state);
  }
  return states;
}

import { ownAddress, pageClasses } from '../app/classes.js';
import { nobody, statesOfRoles } from '../grid/grid.js';
import { ANOTHERS } from '../grid/grid.js';
import { SOME_CLIENT } from '../http/client-address.js';
import type { Page, Policy } from '../language/policy.js';
import { isBoundToPath } from '../audience/all-conditions.js';
import { sampleAddress } from '../paths/coverage.js';
import { stageOf, type Stage } from '../play/stage.js';
import type { Grounds } from '../app/router.js';
import type { TriedState } from '../grid/login-state.js';
import type { Change } from '../why/changes.js';
import { explainRequest } from '../why/explain-request.js';
import type { Reason } from '../app/reasons.js';

/** Why a cell of the grid is as it is. */
export interface CellReason {
  readonly state: string;
  readonly reason: Reason;
  /** The smallest changes of which each would admit them. */
  readonly changes: readonly Change[];
}

/** Why a row of the grid is as it is. */
export interface RowReasons {
  readonly page: Page;
  /** Whom the page is for, and what says so. */
  readonly grounds: Grounds | null;
  readonly cells: readonly CellReason[];
}

/**
 * Why each row of the grid of roles is as it is, by the name of the row.
 *
 * @param wanted the states to explain; pages that treat everybody alike are explained once
 */
export function rowReasons(policy: Policy, wanted: readonly string[]): ReadonlyMap<string, RowReasons> {
  const stage = stageOf(policy);
  const states = statesOfRoles(stage).filter(({ name }) => wanted.includes(name));
  const found = new Map<string, RowReasons>();
  for (const { pages, page } of pageClasses(policy, stage.app.router)) {
    const own = states.map((state) => reasonOf(stage, state, page, true));
    const isBound = isBoundToPath(groundsOf(stage, page)?.audience ?? { who: 'everyone' });
    const others = isBound ? states.map((state) => reasonOf(stage, state, page, false)) : null;
    for (const each of pages) {
      const grounds = groundsOf(stage, each);
      found.set(each.pattern.text, { page: each, grounds, cells: own });
      if (others !== null) found.set(each.pattern.text + ANOTHERS, { page: each, grounds, cells: others });
    }
  }
  return found;
}

function groundsOf({ app }: Stage, { pattern }: Page): Grounds | null {
  return (
    app.router.find(
      'GET',
      sampleAddress(pattern, () => 'x'),
    )?.grounds ?? null
  );
}

function reasonOf(stage: Stage, { name, login }: TriedState, page: Page, isOwn: boolean): CellReason {
  const account = isOwn ? (login.state.accounts.get(login.account ?? '') ?? login.removed) : undefined;
  const address =
    account === undefined
      ? sampleAddress(page.pattern, () => nobody(stage.app.policy))
      : ownAddress(stage.app.router, page.pattern, { account: account.name, facts: account.facts }, 'GET');
  const { outcome, changes } = explainRequest(stage, login, 'GET', address, SOME_CLIENT);
  return { state: name, reason: outcome.why ?? 'served', changes };
}

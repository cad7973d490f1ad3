// Step 3 of docs/proof-method.md: what is tried.

import { changedFacts } from '../../app/administration.js';
import { factsKey, sameFacts } from '../../app/classes.js';
import type { Account } from '../../language/policy.js';
import { rolesHeld } from '../../language/people-reader.js';
import { flagsAsked } from '../../language/stated.js';
import type { Stage } from '../../play/stage.js';
import type { Administration } from '../../steps/all-steps.js';
import type { Facts } from '../../vocabulary/audience.js';
import { changesFacts, factSets, factsGiven } from './fact-changes.js';
import { bySize, everySet, roleChanges, stepsOf } from './role-changes.js';

export const NEW_PASSWORD = 'another';

/** What somebody with access to the app does to some accounts, and to the app itself. */
export function administrationOf(stage: Stage, accounts: readonly Account[]): Administration[] {
  const { policy } = stage.app;
  return [
    ...accounts.flatMap((known): Administration[] => {
      const { name: account } = known;
      return [
        { verb: 'suspend', account },
        { verb: 'delete-account', account },
        ...rolesGiven(stage, known).map((roles) => ({ verb: 'set-roles', account, roles }) as const),
        ...factsTried(stage, known).map((facts) => ({ verb: 'set-facts', account, facts }) as const),
        { verb: 'set-password', account, password: NEW_PASSWORD },
      ];
    }),
    ...flagsAsked(policy).flatMap((flag) =>
      [true, false].map((isOn) => ({ verb: 'set-flag', flags: new Map([[flag, isOn]]) }) as const),
    ),
    ...(policy.session.kept === 'memory' ? [{ verb: 'restart-app' } as const] : []),
  ];
}

/** The sets of roles that an account is given, those among them for which other facts are tried. */
function rolesGiven(stage: Stage, account: Account): readonly (readonly string[])[] {
  const sets = roleChanges(stage, account);
  const known = new Set(sets.map((set) => set.join(' ')));
  const more = factChanges(stage, account).map(({ given }) => given);
  return [...sets, ...more.filter((set) => !known.has(set.join(' ')) && known.add(set.join(' ')))];
}

/** What of the facts of an account is changed at a time. */
function factsTried(stage: Stage, { facts: own, ...account }: Account): Facts[] {
  const { policy } = stage.app;
  if (changesFacts(policy)) return factsGiven(policy, own);
  const others = factChanges(stage, { ...account, facts: own }).map(({ facts }) => facts);
  const distinct = new Map(others.map((facts) => [factsKey(facts), facts]));
  return [...distinct.values()].flatMap((facts) => [changeTo(own, facts), changeTo(facts, own)]);
}

/** What makes facts others. */
function changeTo(from: Facts, to: Facts): Facts {
  const gone = [...from.keys()].filter((name) => !to.has(name)).map((name) => [name, []] as const);
  return new Map([...gone, ...to]);
}

/**
 * Whether a change of roles or facts leads to what is tried together. Where people change facts of their own anything does.
 *
 * @param accounts as they are before it
 */
export function isTried(
  stage: Stage,
  accounts: ReadonlyMap<string, Account>,
  action: Extract<Administration, { verb: 'set-roles' | 'set-facts' }>,
): boolean {
  const { policy } = stage.app;
  const was = policy.accounts.get(action.account);
  const now = accounts.get(action.account);
  if (was === undefined || now === undefined || changesFacts(policy)) return true;
  const facts = action.verb === 'set-facts' ? changedFacts(now.facts, action.facts) : now.facts;
  if (sameFacts(facts, was.facts)) return true;
  const given = (action.verb === 'set-roles' ? action.roles : now.given).join(' ');
  return factChanges(stage, was).some(
    (each) => each.given.join(' ') === given && sameFacts(each.facts, facts),
  );
}

/** Other facts of an account, with the roles for which they are tried. */
interface FactChange {
  readonly facts: Facts;
  readonly given: readonly string[];
}

/**
 * The facts that an administrator gives an account, each with a set of roles, so many that whatever a step can come to for any
 * facts and roles, and not for the account's own facts with any roles, it comes to for one of them.
 */
function factChanges(stage: Stage, account: Account): readonly FactChange[] {
  const ofStage = changes.get(stage) ?? new Map<string, readonly FactChange[]>();
  changes.set(stage, ofStage);
  let known = ofStage.get(account.name);
  if (known === undefined) ofStage.set(account.name, (known = fewestFacts(stage, account)));
  return known;
}

const changes = new WeakMap<Stage, Map<string, readonly FactChange[]>>();

function fewestFacts(stage: Stage, { name, facts: own, given: held }: Account): FactChange[] {
  const { policy } = stage.app;
  const others = factSets(policy, own, true).sets.filter((facts) => !sameFacts(facts, own));
  if (others.length === 0) return [];
  const seen = stepsOf(stage, name, own).map(
    (step) => new Set(everySet(step, policy.roles).map(({ come }) => come)),
  );
  return others.flatMap((facts) => {
    const found = new Map<string, readonly string[]>();
    const wanted = stepsOf(stage, name, facts).map((step, at) => {
      const ways = everySet(step, policy.roles).filter(({ come }) => seen[at]?.has(come) !== true);
      for (const way of ways) found.set(way.given.join(' '), way.given);
      return { step, come: new Set(ways.map(({ come }) => come)), seen: seen[at] };
    });
    return [held, ...bySize(found.values())].flatMap((roles): FactChange[] => {
      const all = rolesHeld(roles, policy.roles);
      let isNew = false;
      for (const each of wanted) {
        const come = each.step(all);
        if (each.come.delete(come)) isNew = true;
        each.seen?.add(come);
      }
      return isNew ? [{ facts, given: roles }] : [];
    });
  });
}

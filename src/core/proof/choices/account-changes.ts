// Step 3 of docs/proof-method.md: what is tried.

import { changedFacts } from '../../app/administration.js';
import { factsKey, sameFacts } from '../../app/classes.js';
import { flagsAtFirst, type AppState } from '../../app/app.js';
import type { Account, Policy } from '../../language/policy.js';
import { rolesHeld } from '../../language/people-reader.js';
import { flagsAsked } from '../../language/stated.js';
import type { Stage } from '../../play/stage.js';
import type { Administration } from '../../steps/all-steps.js';
import type { Facts } from '../../vocabulary/audience.js';
import type { Cast } from './cast.js';
import { factSets, MOST_FLAGS } from './fact-changes.js';
import { bySize, everySet, roleChanges, stepsOf, type Standing } from './role-changes.js';
import { type SetFacts, type SetFlag, type SetRoles } from '../../steps/administration.js';

export const NEW_PASSWORD = 'another';

/** What somebody with access to the app does to some accounts, and to the app itself. */
export function administrationOf(stage: Stage, accounts: readonly Account[]): Administration[] {
  const { policy } = stage.app;
  const changes = accounts.map((account) => ({ account, changes: furtherChanges(stage, account) }));
  return [
    ...changes.flatMap(
      ({ account: { name: account, facts: own, key }, changes: further }): Administration[] => [
        { verb: 'suspend', account },
        { verb: 'delete-account', account },
        ...rolesGiven(stage, account, own, further).map(
          (roles) => ({ verb: 'set-roles', account, roles }) as const,
        ),
        ...factsGiven(own, further).map((facts) => ({ verb: 'set-facts', account, facts }) as const),
        ...(key
          ? ([
              { verb: 'rotate-key', account },
              { verb: 'revoke-key', account },
            ] as const)
          : [{ verb: 'set-password', account, password: NEW_PASSWORD } as const]),
      ],
    ),
    ...flagsGiven(
      policy,
      changes.flatMap((each) => each.changes),
    ).map((flags) => ({ verb: 'set-flag', flags }) as const),
    ...(policy.session.kept === 'memory' ? [{ verb: 'restart-app' } as const] : []),
  ];
}

/** The sets of roles that an account is given, those among them with which other facts and switches are tried. */
function rolesGiven(
  stage: Stage,
  name: string,
  facts: Facts,
  further: readonly Change[],
): readonly (readonly string[])[] {
  const sets = new Map<string, readonly string[]>();
  const all = [...roleChanges(stage, { name, facts }), ...further.map(({ given }) => given)];
  for (const set of all) if (!sets.has(set.join(' '))) sets.set(set.join(' '), set);
  return [...sets.values()];
}

/** What makes the facts of an account those that are tried, and its own again, whatever they are. */
function factsGiven(own: Facts, further: readonly Change[]): Facts[] {
  const distinct = new Map(further.map(({ facts }) => [factsKey(facts), facts]));
  distinct.delete(factsKey(own));
  if (distinct.size === 0) return [];
  const names = new Set([own, ...distinct.values()].flatMap((facts) => [...facts.keys()]));
  const whole = (facts: Facts): Facts => new Map([...names].map((name) => [name, facts.get(name) ?? []]));
  return [...distinct.values(), own].map(whole);
}

/** What puts the switches as they are tried, and as they are at first again. */
function flagsGiven(policy: Policy, further: readonly Change[]): ReadonlyMap<string, boolean>[] {
  const first = flagsAtFirst(policy);
  const distinct = new Map(further.map(({ flags }) => [flagsKey(flags), flags]));
  distinct.delete(flagsKey(first));
  if (distinct.size === 0) return [];
  const asked = flagsAsked(policy);
  return [...distinct.values(), first].map((on) => new Map(asked.map((flag) => [flag, on.has(flag)])));
}

/**
 * Whether a change of roles, facts or switches leads to something that is tried: any roles with the facts that somebody can have
 * by themselves and the switches as they are at first, or one of the further changes.
 */
export function isTried(
  stage: Stage,
  cast: Pick<Cast, 'account'>,
  { accounts, flags }: Pick<AppState, 'accounts' | 'flags'>,
  action: SetRoles | SetFacts | SetFlag,
): boolean {
  const { policy } = stage.app;
  const stands = 'flags' in action ? flagsAfter(flags, action.flags) : flags;
  const all = cast.account === null ? [...policy.accounts.keys()] : [cast.account];
  const concerned = 'flags' in action ? all : [action.account];
  return concerned.some((name) => {
    const was = policy.accounts.get(name);
    const now = accounts.get(name);
    if (was === undefined || now === undefined) return !('flags' in action);
    const facts = 'facts' in action ? changedFacts(now.facts, action.facts) : now.facts;
    const given = 'roles' in action ? action.roles : now.given;
    return isTriedTogether(stage, was, { facts, given, flags: stands });
  });
}

function isTriedTogether(stage: Stage, was: Account, { facts, given, flags }: Change): boolean {
  const { policy } = stage.app;
  const isAtFirst = flagsKey(flags) === flagsKey(flagsAtFirst(policy));
  if (
    isAtFirst &&
    (sameFacts(facts, was.facts) || ownSets(policy, was).some((own) => sameFacts(own, facts)))
  ) {
    return true;
  }
  return furtherChanges(stage, was).some(
    (each) =>
      each.given.join(' ') === given.join(' ') &&
      sameFacts(each.facts, facts) &&
      flagsKey(each.flags) === flagsKey(flags),
  );
}

/** The facts that an account can come to have without anybody's help, its own among them. */
function ownSets(policy: Policy, { facts }: Account): readonly Facts[] {
  return factSets(policy, facts, false).sets;
}

function flagsAfter(flags: ReadonlySet<string>, stands: ReadonlyMap<string, boolean>): ReadonlySet<string> {
  const after = new Set(flags);
  for (const [flag, isOn] of stands) {
    if (isOn) after.add(flag);
    else after.delete(flag);
  }
  return after;
}

function flagsKey(flags: ReadonlySet<string>): string {
  return flags.size === 0 ? '' : [...flags].sort().join();
}

/** Other facts of an account, and switches of the app, with the roles for which they are tried. */
export interface Change extends Standing {
  readonly given: readonly string[];
}

/**
 * Other facts and switches, each with a set of roles, so many that whatever a step can come to for any facts, switches and roles,
 * and not for what an account can come to have by itself with any roles, it comes to for one of them.
 */
export function furtherChanges(stage: Stage, account: Account): readonly Change[] {
  const ofStage = changes.get(stage) ?? new Map<string, readonly Change[]>();
  changes.set(stage, ofStage);
  let known = ofStage.get(account.name);
  if (known === undefined) ofStage.set(account.name, (known = fewestChanges(stage, account)));
  return known;
}

const changes = new WeakMap<Stage, Map<string, readonly Change[]>>();

function fewestChanges(stage: Stage, account: Account): Change[] {
  const { policy } = stage.app;
  const { name, given: held } = account;
  const first = flagsAtFirst(policy);
  const own = ownSets(policy, account);
  const others = factSets(policy, account.facts, true).sets.filter(
    (facts) => !own.some((each) => sameFacts(each, facts)),
  );
  const switched = waysOf(flagsAsked(policy), first);
  // What changes one thing comes before what changes two.
  const standings: Standing[] = [
    ...switched.flatMap((flags) => own.map((facts) => ({ facts, flags }))),
    ...others.map((facts) => ({ facts, flags: first })),
    ...switched.flatMap((flags) => others.map((facts) => ({ facts, flags }))),
  ];
  if (standings.length === 0) return [];
  const seen: Set<string>[] = [];
  for (const facts of own) {
    for (const [at, step] of stepsOf(stage, name, { facts, flags: first }).entries()) {
      const come = (seen[at] ??= new Set());
      for (const way of everySet(step, policy.roles)) come.add(way.come);
    }
  }
  const chosen = standings.flatMap((standing) => {
    const found = new Map<string, readonly string[]>();
    const wanted = stepsOf(stage, name, standing).map((step, at) => {
      const ways = everySet(step, policy.roles).filter(({ come }) => seen[at]?.has(come) !== true);
      for (const way of ways) found.set(way.given.join(' '), way.given);
      return { step, come: new Set(ways.map(({ come }) => come)), seen: seen[at] };
    });
    return [held, ...bySize(found.values())].flatMap((given): Change[] => {
      const all = rolesHeld(given, policy.roles);
      let isNew = false;
      for (const each of wanted) {
        const come = each.step(all);
        if (each.come.delete(come)) isNew = true;
        each.seen?.add(come);
      }
      return isNew ? [{ ...standing, given }] : [];
    });
  });
  // What changes both is come to by way of the facts alone.
  const between = chosen.flatMap((each): Change[] =>
    flagsKey(each.flags) === flagsKey(first) ? [] : [{ ...each, flags: first }],
  );
  return [...chosen, ...between];
}

/** Every other way in which some switches can stand; of many only those in which one stands otherwise. */
function waysOf(flags: readonly string[], first: ReadonlySet<string>): ReadonlySet<string>[] {
  const rest = new Set([...first].filter((flag) => !flags.includes(flag)));
  if (flags.length > MOST_FLAGS) {
    return flags.map((flag) => flagsAfter(first, new Map([[flag, !first.has(flag)]])));
  }
  const all = flags.reduce<ReadonlySet<string>[]>(
    (ways, flag) => [...ways, ...ways.map((way) => new Set([...way, flag]))],
    [rest],
  );
  return all.filter((way) => flagsKey(way) !== flagsKey(first));
}

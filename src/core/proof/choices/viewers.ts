// Step 3 of docs/proof-method.md: what is tried.

import { GUEST, type Identity } from '../../app/identify.js';
import { BEGINNING } from '../../time/clock.js';
import type { Account } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { changesFacts, factSets } from './fact-changes.js';
import { NEWCOMER } from './cast.js';
import { AS_ASKED, type Viewers } from './effects.js';
import { rolesHeld } from '../../language/people-reader.js';
import { roleChanges } from './role-changes.js';

const NOBODY: readonly Account[] = [];

/**
 * Everybody whom some accounts, and one that signs up and is let in, can be taken for.
 *
 * @param isAdministrated whether somebody may change what they hold
 * @param targets the accounts for which they may act
 */
export function viewersOf(
  stage: Stage,
  accounts: readonly Account[],
  isAdministrated: boolean,
  targets: readonly Account[] = NOBODY,
): Viewers {
  const { policy } = stage.app;
  const { roles, signUp, login } = policy;
  const none: Account['facts'] = new Map();
  const people = [
    ...accounts,
    ...(signUp?.then !== 'login'
      ? []
      : [{ name: NEWCOMER, given: signUp.given, roles: signUp.roles, facts: none }]),
  ];
  const known = people.flatMap(({ name, given, roles: held, facts: own }) => {
    const picked =
      login?.asRole === true ? given.map((role) => roles.get(role)?.holds ?? new Set<string>()) : [];
    const all = isAdministrated
      ? roleChanges(stage, { name, facts: own }).map((each) => rolesHeld(each, policy.roles))
      : [held, ...picked];
    return factSets(policy, own, isAdministrated).sets.flatMap((facts) =>
      all.flatMap((each) => withCodeOrNot({ account: name, actedBy: null, roles: each, facts })),
    );
  });
  const acting = actedForViewers(stage, targets);
  return { all: [GUEST, ...known, ...acting], canChange: isAdministrated || changesFacts(policy) };
}

/** Whom somebody can be taken for who acts for some accounts, with the facts that these can come to have by themselves. */
export function actedForViewers(stage: Stage, targets: readonly Account[]): Identity[] {
  return targets.flatMap(({ name, roles, facts: own }) =>
    factSets(stage.app.policy, own, false).sets.flatMap((facts) =>
      withCodeOrNot({ account: name, actedBy: NEWCOMER, roles, facts }),
    ),
  );
}

/** Somebody who has just logged in, with a one-time code given and without. */
function withCodeOrNot(who: Pick<Identity, 'account' | 'actedBy' | 'roles' | 'facts'>): Identity[] {
  const known = { ...GUEST, ...who, since: BEGINNING, joinedAt: BEGINNING, flags: AS_ASKED } as const;
  return [false, true].map((secondFactor) => ({ ...known, secondFactor, reason: 'served' }));
}

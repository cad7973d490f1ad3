// Step 3 of docs/proof-method.md: what is tried.

import { GUEST, type Identity } from '../../app/identify.js';
import { BEGINNING } from '../../time/clock.js';
import type { Account } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { NEWCOMER } from './cast.js';
import type { Viewers } from './effects.js';
import { rolesHeld } from '../../language/people-reader.js';
import { roleChanges } from './role-changes.js';

/** Everybody whom some accounts, and one that signs up and is let in, can be taken for. */
export function viewersOf(stage: Stage, accounts: readonly Account[], canChange: boolean): Viewers {
  const { policy } = stage.app;
  const { roles, signUp, login } = policy;
  const none = new Map<string, string>();
  const people = [
    ...accounts,
    ...(signUp?.then !== 'login'
      ? []
      : [{ name: NEWCOMER, given: signUp.given, roles: signUp.roles, facts: none }]),
  ];
  const known = people.flatMap(({ name, given, roles: held, facts }) => {
    const picked =
      login?.asRole === true ? given.map((role) => roles.get(role)?.holds ?? new Set<string>()) : [];
    const all = canChange
      ? roleChanges(stage, { name, facts }).map((each) => rolesHeld(each, policy.roles))
      : [held, ...picked];
    return all.flatMap((each) =>
      [false, true].map((secondFactor): Identity => ({
        ...GUEST,
        account: name,
        roles: each,
        facts,
        secondFactor,
        since: BEGINNING,
        reason: 'served',
      })),
    );
  });
  return { all: [GUEST, ...known], canChange };
}

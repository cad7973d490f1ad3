// Step 3 of docs/proof-method.md: what is tried.

import { accountClasses } from '../../app/classes.js';
import { stops } from '../../app/barriers.js';
import { takes } from '../../app/logins.js';
import { firstEntry } from '../../app/landing.js';
import { lifeBy } from '../../language/session-lives.js';
import type { Account, LandingEntry, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { isActor } from './acting-moves.js';
import { viewersOf } from './viewers.js';
import { asAsked, JUST_NOW } from './effects.js';
import { effectAt, requestKeysOf } from './requests.js';

/** Accounts of which one speaks for all, where only one of them takes part. */
export interface AccountKind {
  readonly account: Account;
  readonly others: readonly Account[];
}

/**
 * Groups the accounts that can sign in by all that tells what happens to them, but for which pages it happens at: in which ways
 * requests are answered to them, and what comes of where they land.
 *
 * @param canChange whether what they hold may change
 */
export function accountKinds(stage: Stage, canChange: boolean): AccountKind[] {
  const kinds = new Map<string, Account[]>();
  const landsByPage = stage.app.policy.logout?.lands.some(({ leaving }) => leaving !== null) === true;
  for (const { account, accounts } of accountClasses(stage.app.policy)) {
    if (account.state !== 'active') continue;
    const key = landsByPage ? account.name : kindOf(stage, account, canChange);
    kinds.set(key, [...(kinds.get(key) ?? []), ...accounts]);
  }
  return [...kinds.values()].flatMap((members) => {
    // Where roles can change whoever acts for others speaks for those too who do not.
    const account = members.find((each) => isActor(stage, each)) ?? members[0];
    return account === undefined ? [] : [{ account, others: members.filter((each) => each !== account) }];
  });
}

const NO_PATH = { parameters: new Map<string, string>() };

function kindOf(stage: Stage, account: Account, canChange: boolean): string {
  const { policy } = stage.app;
  const viewers = viewersOf(stage, [account], canChange);
  const barred = policy.barriers.map((each) =>
    viewers.all
      .map((viewer) => Number(stops(each, asAsked(each.stops.audience, viewer), NO_PATH, JUST_NOW)))
      .join(''),
  );
  const lands = landingLists(policy).map((entries) =>
    viewers.all.map((viewer) => {
      const entry = firstEntry(entries, viewer);
      return entry === null ? 'nowhere' : effectAt(stage, entry.to, { all: [viewer], canChange });
    }),
  );
  const { secondFactor, given, key } = account;
  const picks = policy.login?.asRole === true ? given.length : 1;
  const ways = [...requestKeysOf(stage, [account], viewers)].sort();
  // Whoever had roles and has none any more is told apart from whoever never had any.
  const { joined, roles } = account;
  const lives = (['idle', 'absolute'] as const).map((option) => lifeBy(option, policy, roles));
  return JSON.stringify([
    secondFactor,
    key,
    canChange ? '' : isActor(stage, account),
    // Where roles can change, so does who takes whom.
    canChange ? [] : policy.logins.map((each) => takes(each, account)),
    canChange ? given.length > 0 : picks,
    lands,
    ways,
    joined,
    lives,
    barred,
  ]);
}

/** Every list by which somebody may be sent somewhere. */
function landingLists({ landing, logins, logout, pages }: Policy): (readonly LandingEntry[])[] {
  const forwards = pages.flatMap(({ forward }) => (forward?.entries ? [forward.entries] : []));
  return [landing, ...logins.map((each) => each.landing), logout?.lands ?? [], ...forwards];
}

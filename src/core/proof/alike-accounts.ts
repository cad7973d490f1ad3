import { accountClasses } from '../app/classes.js';
import { firstEntry } from '../app/landing.js';
import type { Account, LandingEntry, Policy } from '../language/policy.js';
import type { Stage } from '../walks/stage.js';
import { viewersOf } from './choices.js';
import { requestKeysOf } from './requests.js';

/** Accounts of which one speaks for all, where only one of them takes part. */
export interface AccountKind {
  readonly account: Account;
  readonly others: readonly Account[];
}

/**
 * Groups the accounts that can sign in by all that tells what happens to them, but for which pages it happens at: to how many
 * classes of requests they are answered how, and to which of these they are sent on.
 */
export function accountKinds(stage: Stage): AccountKind[] {
  const kinds = new Map<string, Account[]>();
  const landsByPage = stage.app.policy.logout?.lands.some(({ leaving }) => leaving !== null) === true;
  for (const { account, accounts } of accountClasses(stage.app.policy.accounts.values())) {
    if (account.state !== 'active') continue;
    const key = landsByPage ? account.name : kindOf(stage, account);
    kinds.set(key, [...(kinds.get(key) ?? []), ...accounts]);
  }
  return [...kinds.values()].flatMap(([account, ...others]) =>
    account === undefined ? [] : [{ account, others }],
  );
}

function kindOf(stage: Stage, account: Account): string {
  const { policy } = stage.app;
  const viewers = viewersOf(policy, [account]);
  const { all, keyAt } = requestKeysOf(stage, [account.name], viewers);
  const nameless = (key: string) => key.replaceAll(`\n${account.name}\n`, '\n@\n');
  const lands = landingLists(policy).map((entries) =>
    viewers.map((viewer) => {
      const entry = firstEntry(entries, viewer);
      return entry === null ? 'nowhere' : nameless(keyAt(entry.to));
    }),
  );
  const { secondFactor, given } = account;
  const picks = policy.login?.asRole === true ? given.length : 1;
  return JSON.stringify([secondFactor, picks, lands, all.map(nameless).sort()]);
}

/** Every list by which somebody may be sent somewhere. */
function landingLists({ landing, logout, pages }: Policy): (readonly LandingEntry[])[] {
  return [
    landing,
    logout?.lands ?? [],
    ...pages.flatMap(({ forward }) =>
      (forward?.entries ?? []).length === 0 ? [] : [forward?.entries ?? []],
    ),
  ];
}

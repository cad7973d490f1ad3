import { lifeBy } from '../../language/session-lives.js';
import { statedAudiences } from '../../language/stated.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { formatDuration } from '../../time/duration.js';
import { askFor, entering, MOST_WAITS, pagesAsked, wait, type Scenario } from './scenario.js';
import { limitsIn } from '../../audience/all-conditions.js';

/** What becomes of a login with time, and once it is ended by others. */
export function sessionScenarios(stage: Stage, person: Account): Scenario[] {
  const { policy } = stage.app;
  const start = entering(policy, person);
  const { name } = person;
  const asks = askFor(stage, person);
  if (asks === null) return [];
  // A token shows where script makes a call.
  const calls = askFor(stage, person, 'api') ?? asks;
  const bothSides = (deadline: string) => [`wait short-of ${deadline}`, asks, `wait past ${deadline}`, asks];
  const within = statedAudiences(policy).flatMap(({ audience }) =>
    limitsIn(audience).map(({ life }) => life),
  );
  return [
    { name: `${name} is away for too long`, lines: [...start, ...bothSides('session-idle')] },
    {
      name: `${name} is always there`,
      lines: [...start, ...kept(policy, person, asks), ...bothSides('session-absolute')],
    },
    {
      name: `the token of ${name} is over`,
      lines: [...start, 'wait short-of access-expiry', calls, 'wait past access-expiry', calls],
    },
    {
      name: `${name} comes back before the tokens are over`,
      lines: [...start, 'wait short-of refresh-expiry', calls],
    },
    {
      name: `${name} comes back when the tokens are over`,
      lines: [...start, 'wait past refresh-expiry', calls],
    },
    { name: `${name} renews tokens to the end`, lines: [...start, ...renewed(policy, calls)] },
    {
      name: `${name} is known again`,
      lines: [...remembered(policy, person), 'close-browser', 'open-browser', asks],
    },
    {
      name: `${name} comes back at the last moment`,
      lines: [
        ...remembered(policy, person),
        'close-browser',
        'open-browser',
        'wait short-of remember-expiry',
        asks,
      ],
    },
    {
      name: `${name} comes back too late`,
      lines: [
        ...remembered(policy, person),
        'close-browser',
        'open-browser',
        'wait past remember-expiry',
        asks,
      ],
    },
    {
      name: `what is copied from ${name} is over with the logout`,
      lines: [...start, 'copy session to thief', 'logout', `in thief: ${asks}`],
    },
    {
      name: `the tokens of ${name} are over with the logout`,
      lines: [
        ...start,
        'copy refresh to thief',
        'logout',
        `in thief: wait past access-expiry`,
        `in thief: ${calls}`,
      ],
    },
    {
      name: `what a copied cookie of ${name} has brought is over with the logout`,
      lines: [
        ...remembered(policy, person),
        'copy remember to thief',
        `in thief: ${asks}`,
        'logout',
        `in thief: ${asks}`,
      ],
    },
    {
      name: `what a copied token of ${name} has brought is over with the logout`,
      lines: [
        ...start,
        'copy refresh to thief',
        'in thief: refresh',
        'logout',
        'in thief: refresh',
        `in thief: ${calls}`,
      ],
    },
    {
      name: `a stolen token of ${name} is noticed`,
      lines: [
        ...start,
        'copy refresh to thief',
        'wait past access-expiry',
        calls,
        `in thief: ${calls}`,
        calls,
      ],
    },
    { name: `${name} is suspended`, lines: [...start, `suspend ${name}`, asks, `login ${name}`] },
    { name: `the account ${name} is deleted`, lines: [...start, `delete-account ${name}`, asks] },
    { name: `the app is started again under ${name}`, lines: [...start, 'restart-app', asks] },
    ...within.map((seconds) => ({
      name: `${name} was here ${formatDuration(seconds)} ago`,
      lines: [
        ...start,
        wait(seconds - 1),
        ...pagesAsked(stage, person),
        wait(1),
        ...pagesAsked(stage, person),
      ],
    })),
  ];
}

function remembered(policy: Policy, person: Account): string[] {
  return entering(policy, person, ', remembered');
}

/** Requests that keep a session from being idle up to its greatest age; none where that is soon enough. */
function kept(policy: Policy, { roles }: Account, asks: string): string[] {
  const [idle, absolute] = [lifeBy('idle', policy, roles), lifeBy('absolute', policy, roles)];
  if (idle === null || absolute === null) return [];
  const times = Math.ceil(absolute / (idle - 1)) - 1;
  return times > MOST_WAITS ? [] : Array.from({ length: times }, () => [wait(idle - 1), asks]).flat();
}

/** Requests that renew tokens until they cannot be renewed any more; none where that never comes, or far too late. */
function renewed({ tokens }: Policy, asks: string): string[] {
  const { life = 0, longest = null } = tokens?.refresh ?? {};
  if (longest === null || life < 2) return [];
  const times = Math.ceil(longest / (life - 1)) - 1;
  if (times > MOST_WAITS) return [];
  const left = longest - times * (life - 1);
  return [
    ...Array.from({ length: times }, () => [wait(life - 1), asks]).flat(),
    wait(left - 1),
    asks,
    wait(1),
    asks,
  ];
}

/** Somebody who logs in in two browsers at once. */
export function secondBrowserScenarios(stage: Stage, people: readonly Account[]): Scenario[] {
  const { policy } = stage.app;
  const [person] = people;
  const asks = person === undefined ? null : askFor(stage, person);
  if (person === undefined || asks === null || policy.login === null) return [];
  const enters = entering(policy, person);
  const inOther = (line: string) => `in other: ${line}`;
  return [
    {
      name: `${person.name} comes in twice`,
      lines: [...enters, ...enters.map(inOther), asks, inOther(asks), inOther('logout'), asks],
    },
  ];
}

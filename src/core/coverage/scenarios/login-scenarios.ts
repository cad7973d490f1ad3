import { takes } from '../../app/logins.js';
import { statedAudiences } from '../../language/stated.js';
import type { Account, Policy } from '../../language/policy.js';
import { sampleAddress } from '../../paths/coverage.js';
import type { Stage } from '../../play/stage.js';
import { formatDuration, type Seconds } from '../../time/duration.js';
import { addressesOf, entering, MOST_WAITS, wait, type Scenario } from './scenario.js';

export function loginScenarios(policy: Policy, person: Account): Scenario[] {
  const { name } = person;
  const at = policy.logins
    .filter((each) => takes(each, person))
    .map((each) => (each.name === null ? '' : ` at ${each.name}`));
  const pages = (policy.logout?.lands ?? []).flatMap(({ leaving }) =>
    leaving === null ? [] : [sampleAddress(leaving, () => 'x')],
  );
  return [
    ...at.map((more) => ({
      name: `${name} logs in${more}`,
      lines: [...entering(policy, person, more), 'logout'],
    })),
    ...at.flatMap((more) => attemptScenarios(policy, person, more)),
    ...pages.map((page) => ({
      name: `${name} logs out from ${page}`,
      lines: [...entering(policy, person), `visit ${page}`, 'logout'],
    })),
    { name: `${name} gives a wrong code`, lines: [`login ${name}`, 'code wrong', 'code right'] },
    { name: `${name} gives the code too late`, lines: [`login ${name}`, 'code late'] },
    {
      name: `${name} gives the code as it is over`,
      lines: [`login ${name}`, 'wait past code-expiry', 'code right'],
    },
    {
      name: `${name} gives the code at the last moment`,
      lines: [`login ${name}`, 'wait short-of code-expiry', 'code right'],
    },
  ];
}

function attemptScenarios({ logins }: Policy, { name }: Account, at: string): Scenario[] {
  const attempts =
    logins.find((each) => at === (each.name === null ? '' : ` at ${each.name}`))?.attempts ?? null;
  const wrong = `login ${name}${at}, wrong password`;
  const right = `login ${name}${at}`;
  const one = [{ name: `${name} mistypes the password${at}`, lines: [wrong] }];
  if (attempts === null || attempts.most > MOST_WAITS) return one;
  const { most, within, pause } = attempts;
  const guesses = Array.from({ length: most }, () => wrong);
  return [
    ...one,
    { name: `${name} remembers the password at last${at}`, lines: [...guesses.slice(1), right] },
    {
      name: `${name} is locked out, and let in again${at}`,
      lines: [...guesses, right, wait(pause - 1), right, wait(1), right],
    },
    {
      name: `a wrong password of ${name} still counts${at}`,
      lines: [...guesses.slice(1), wait(within - 1), wrong, right],
    },
    {
      name: `a wrong password of ${name} is forgotten${at}`,
      lines: [...guesses.slice(1), wait(within), wrong, right],
    },
  ];
}

/** A landing for a role that no account holds, and for whoever lost all roles. */
export function roleScenarios(policy: Policy, people: readonly Account[]): Scenario[] {
  const [person] = people;
  if (person === undefined) return [];
  return [null, ...policy.roles.keys()].map((role) => ({
    name: role === null ? `${person.name} without a role` : `${person.name} as ${role}`,
    lines: [`set-roles ${person.name}: ${role ?? 'none'}`, `login ${person.name}`, 'code right', 'logout'],
  }));
}

export function passwordScenarios({ password, linkLogin }: Policy, people: readonly Account[]): Scenario[] {
  const [person] = people;
  if (person === undefined) return [];
  const { name } = person;
  const links: readonly (readonly [ask: string, open: string, life: Seconds | null])[] = [
    [`ask-reset ${name}`, `reset ${name} another-password`, password?.reset?.link.life ?? null],
    [`ask-link ${name}`, `open-link ${name}`, linkLogin?.link.life ?? null],
  ];
  return [
    {
      name: `${name} chooses another password`,
      lines: [
        `login ${name}`,
        'copy session to thief',
        'change-password another-password',
        'in thief: reload',
      ],
    },
    {
      name: `${name} is given another password`,
      lines: [`login ${name}`, `set-password ${name} another-password`, 'reload'],
    },
    ...links.flatMap(([ask, open, life]) =>
      life === null
        ? []
        : [
            { name: `a link for ${name} at the last moment`, lines: [ask, wait(life - 1), open] },
            { name: `a link for ${name} too late`, lines: [ask, wait(life), open] },
            { name: `a link for ${name} in another browser`, lines: [ask, `in thief: ${open}`] },
          ],
    ),
  ];
}

export function newcomerScenarios(stage: Stage): Scenario[] {
  const { accounts, confirm } = stage.app.policy;
  let name = 'newcomer';
  while (accounts.has(name)) name += '-1';
  const start = `sign-up ${name} a-password`;
  const made = statedAudiences(stage.app.policy).flatMap(({ audience }) =>
    audience.who === 'some' ? (audience.joinedWithin ?? []) : [],
  );
  const asks = stage.app.policy.pages.flatMap((page) =>
    addressesOf(stage, null, page).map((at) => `visit ${at}`),
  );
  return [
    ...made.map((seconds) => ({
      name: `somebody has been here for ${formatDuration(seconds)}`,
      lines: [start, wait(seconds - 1), `login ${name}`, ...asks, wait(1), ...asks],
    })),
    { name: 'somebody signs up', lines: [start, `confirm ${name}`, `login ${name}`] },
    { name: 'somebody logs in before the confirmation', lines: [start, `login ${name}`] },
    ...(confirm === null
      ? []
      : [
          {
            name: 'somebody confirms at the last moment',
            lines: [start, wait(confirm.life - 1), `confirm ${name}`],
          },
          { name: 'somebody confirms too late', lines: [start, wait(confirm.life), `confirm ${name}`] },
        ]),
  ];
}

import { endpointsOf } from '../../app/endpoints.js';
import { takes } from '../../app/logins.js';
import { isSafe } from '../../http/messages.js';
import { endsOf } from '../../http/client-address.js';
import type { Account } from '../../language/policy.js';
import { sampleAddress } from '../../paths/coverage.js';
import type { Stage } from '../../play/stage.js';
import { addressesOf, apiPages, entering, pagesAsked, writingMethod, type Scenario } from './scenario.js';

/** Everything that can be asked for, and written to, by one person. */
export function pageScenarios(stage: Stage, person: Account | null): Scenario[] {
  const { policy } = stage.app;
  const who = person?.name ?? 'a guest';
  const start = person === null ? [] : entering(policy, person);
  const reads = policy.pages.flatMap((page) =>
    (page.answers?.some(isSafe) ?? true) ? addressesOf(stage, person, page).map((at) => `visit ${at}`) : [],
  );
  const calls = apiPages(stage).flatMap((page) =>
    addressesOf(stage, person, page).map((at) => `send GET ${at}`),
  );
  const writes = policy.pages.flatMap((page) => {
    const method = writingMethod(page);
    return method === undefined
      ? []
      : addressesOf(stage, person, page)
          .slice(0, 1)
          .map((at) => `send ${method} ${at}`);
  });
  const ruled = policy.rules.flatMap(({ patterns, conditions }) =>
    patterns.flatMap((pattern) => {
      const address = sampleAddress(pattern, () => 'x');
      const networks = (conditions.from ?? []).slice(0, 1).map((network) => endsOf(network)[0]);
      return [`visit ${address}`, ...networks.map((client) => `visit ${address}, connected from ${client}`)];
    }),
  );
  return [
    { name: `${who} asks for pages`, lines: [...start, ...reads, ...calls, ...ruled] },
    // A page that is written to may change who one is: those that only show come first.
    { name: `${who} writes to pages`, lines: [...start, ...writes] },
  ];
}

/** Pages while a switch stands otherwise, and for whoever a barrier stops. */
export function switchScenarios(stage: Stage, people: readonly Account[]): Scenario[] {
  const { policy } = stage.app;
  const flags = [...policy.flags].flatMap(([flag, isOn]) =>
    [null, ...people].map((person) => ({
      name: `${person?.name ?? 'a guest'} while ${flag} is ${isOn ? 'off' : 'on'}`,
      lines: [
        ...(person === null ? [] : entering(policy, person)),
        `set-flag ${flag} ${isOn ? 'off' : 'on'}`,
        ...(pageScenarios(stage, person)[0]?.lines ?? []).filter(
          (line) => !line.startsWith('login') && !line.startsWith('code'),
        ),
        ...(pageScenarios(stage, person)[1]?.lines ?? []).filter((line) => line.startsWith('send')),
      ],
    })),
  );
  const stopped = policy.barriers.flatMap(({ name, stops: { audience }, lets }) => {
    const [person] = people;
    if (person === undefined || audience.who !== 'some') return [];
    const facts = [...audience.facts].flatMap(
      ([
        fact,
        {
          values: [value],
        },
      ]) => (value === undefined ? [] : [`${fact} ${value}`]),
    );
    if (facts.length === 0) return [];
    return [
      {
        name: `the barrier ${name} stops ${person.name}`,
        lines: [
          `set-facts ${person.name}: ${facts.join(', ')}`,
          ...entering(policy, person),
          ...pagesAsked(stage, person),
          ...lets.map((pattern) => `visit ${sampleAddress(pattern, () => 'x')}`),
        ],
      },
    ];
  });
  return [...flags, ...stopped];
}

/** What nobody is meant to do. */
export function strayScenarios({ app }: Stage, people: readonly Account[]): Scenario[] {
  const { policy } = app;
  const [person] = people;
  const unanswered = policy.pages.flatMap(({ pattern, answers }) => {
    const method = (['GET', 'POST', 'PUT', 'DELETE'] as const).find(
      (each) => answers !== null && !answers.includes(each),
    );
    const address = sampleAddress(pattern, () => 'x');
    return method === undefined ? [] : [method === 'GET' ? `visit ${address}` : `send ${method} ${address}`];
  });
  const host = policy.origin.replace(/^https:/, 'http:');
  const written = [...endpointsOf(policy)].find(({ task, method }) => task === 'logout' && !isSafe(method));
  const forged = policy.pages.map(
    ({ pattern }) => `send POST ${sampleAddress(pattern, () => 'x')} from https://elsewhere.example`,
  );
  const back = policy.logins.find((each) => each.return !== null);
  return [
    { name: 'a guest asks for what is not there', lines: ['visit /there-is-no-such-page'] },
    ...(unanswered.length === 0
      ? []
      : [{ name: 'a guest asks otherwise than pages answer', lines: unanswered }]),
    {
      name: 'a guest comes over plain http',
      lines: policy.pages
        .slice(0, 50)
        .map(({ pattern }) => `visit ${host}${sampleAddress(pattern, () => 'x')}`),
    },
    ...(person === undefined
      ? []
      : [
          ...(written === undefined
            ? []
            : [
                {
                  name: `another site sends forms of ${person.name}`,
                  lines: [...entering(policy, person), ...forged],
                },
              ]),
          ...(back === undefined || back.return === null
            ? []
            : [
                {
                  name: `${person.name} is to be led off the site`,
                  lines: [
                    `visit ${back.page}?${back.return.param}=https%3A%2F%2Felsewhere.example%2F`,
                    `login ${person.name}`,
                  ],
                },
              ]),
          ...policy.logins
            .filter((each) => each.name !== null)
            .flatMap((each) =>
              people
                .filter((one) => !takes(each, one))
                .slice(0, 1)
                .map((one) => ({
                  name: `${one.name} tries the login ${each.name ?? ''}`,
                  lines: [`login ${one.name} at ${each.name ?? ''}`],
                })),
            ),
        ]),
  ];
}

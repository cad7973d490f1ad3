import { isActedFor, mayAct } from '../../app/acting.js';
import type { Account, Policy } from '../../language/policy.js';
import { sampleAddress } from '../../paths/coverage.js';
import type { Stage } from '../../play/stage.js';
import { apiPages, entering, wait, writingMethod, type Scenario } from './scenario.js';

export function providerScenarios({ providers }: Policy): Scenario[] {
  return providers.flatMap(({ name, knows, session }) => {
    const [person = 'stranger'] = knows.keys();
    const first = `login ${person} with ${name}`;
    return [
      { name: `${person} comes in by ${name}`, lines: [first, 'logout', first] },
      { name: `somebody new comes in by ${name}`, lines: [`login somebody-new with ${name}`] },
      { name: `an answer of ${name} is planted`, lines: [`plant-answer of ${person} with ${name}`] },
      ...(session === null
        ? []
        : [
            {
              name: `${name} knows ${person} for a time`,
              lines: [first, 'logout', wait(session - 1), first, 'logout', wait(1), first],
            },
          ]),
    ];
  });
}

export function machineScenarios(stage: Stage): Scenario[] {
  const { policy } = stage.app;
  const rules = policy.apiKeys;
  if (rules === null) return [];
  const { life, overlap } = rules;
  return [...policy.accounts.values()]
    .filter(({ key }) => key)
    .flatMap(({ name }) => {
      const by = (line: string, which = 'the key') => `${line} by ${which} of ${name}`;
      const [some = 'send GET /'] = apiPages(stage).map(
        ({ pattern }) => `send GET ${sampleAddress(pattern, () => 'x')}`,
      );
      return [
        {
          name: `the machine ${name} asks for pages`,
          lines: policy.pages.flatMap((page) => {
            const address = sampleAddress(page.pattern, () => 'x');
            const method = writingMethod(page);
            return [
              by(`send GET ${address}`),
              ...(method === undefined ? [] : [by(`send ${method} ${address}`)]),
            ];
          }),
        },
        { name: `the key of ${name} is called back`, lines: [by(some), `revoke-key ${name}`, by(some)] },
        {
          name: `${name} is given another key`,
          lines: [
            `rotate-key ${name}`,
            wait(Math.max(0, overlap - 1)),
            by(some, 'the old key'),
            wait(1),
            by(some, 'the old key'),
          ],
        },
        ...(life === null
          ? []
          : [{ name: `the key of ${name} runs out`, lines: [wait(life - 1), by(some), wait(1), by(some)] }]),
      ];
    });
}

export function actingScenarios(policy: Policy, people: readonly Account[]): Scenario[] {
  const { impersonation } = policy;
  if (impersonation === null) return [];
  const actor = people.find(({ roles }) => mayAct(impersonation, roles));
  const other = people.find((each) => each !== actor && isActedFor(impersonation, each));
  if (actor === undefined || other === undefined) return [];
  const { start, stop, life, not } = impersonation;
  const begins = `send ${start.method} ${start.path.replace(/:[^/]+/, encodeURIComponent(other.name))}`;
  const closed = not.map((pattern) => `visit ${sampleAddress(pattern, () => 'x')}`);
  const asks = policy.pages.find(({ pattern }) => pattern.text === '/') === undefined ? 'reload' : 'visit /';
  return [
    {
      name: `${actor.name} acts for ${other.name}`,
      lines: [...entering(policy, actor), begins, ...closed, `send ${stop.method} ${stop.path}`],
    },
    ...(life === null
      ? []
      : [
          {
            name: `${actor.name} acts for ${other.name} for too long`,
            lines: [...entering(policy, actor), begins, wait(life - 1), asks, wait(1), asks],
          },
        ]),
  ];
}

import { accountClasses } from '../../app/classes.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { loginScenarios, newcomerScenarios, passwordScenarios, roleScenarios } from './login-scenarios.js';
import { actingScenarios, machineScenarios, providerScenarios } from './other-ways.js';
import { pageScenarios, strayScenarios, switchScenarios } from './page-scenarios.js';
import type { Scenario } from './scenario.js';
import { secondBrowserScenarios, sessionScenarios } from './session-scenarios.js';

/** What people may do that could touch something of a policy: pages, limits on both sides, ways in and out, and what goes wrong. */
export function scenariosOf(stage: Stage): Scenario[] {
  const { policy } = stage.app;
  const people = peopleOf(policy);
  return [
    ...pageScenarios(stage, null),
    ...people.flatMap((person) => [
      ...pageScenarios(stage, person),
      ...loginScenarios(policy, person),
      ...sessionScenarios(stage, person),
    ]),
    ...secondBrowserScenarios(stage, people),
    ...roleScenarios(policy, people),
    ...passwordScenarios(policy, people),
    ...newcomerScenarios(stage),
    ...providerScenarios(policy),
    ...machineScenarios(stage),
    ...actingScenarios(policy, people),
    ...switchScenarios(stage, people),
    ...strayScenarios(stage, people),
  ];
}

/** One person of each kind that can log in. */
export function peopleOf(policy: Policy): Account[] {
  return accountClasses(policy)
    .map(({ account }) => account)
    .filter(({ state, key }) => state === 'active' && !key);
}

import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { differences, playSteps, policyText } from '../../support/policies';
import { SCENARIOS } from './cases';
import { BARRIERS } from './barriers';
import { LOGINS } from './logins';
import { PASSWORDS } from './passwords';
import { PROVIDERS } from './providers';
import { BY_ROLE_AND_HOST } from './by-role-and-host';
import { FACTS_AND_PARTS } from './facts-and-parts';
import { GUESTS_AND_FORMS } from './guests-and-forms';
import { MACHINES_AND_ACTING } from './machines-and-acting';
import { ORDINARY } from './ordinary-apps';

beforeAll(loadRegularLanguages);

describe.each([
  ...Object.entries(SCENARIOS),
  ...Object.entries(ORDINARY),
  ...Object.entries(GUESTS_AND_FORMS),
  ...Object.entries(FACTS_AND_PARTS),
  ...Object.entries(BY_ROLE_AND_HOST),
  ...Object.entries(BARRIERS),
  ...Object.entries(LOGINS),
  ...Object.entries(PASSWORDS),
  ...Object.entries(PROVIDERS),
  ...Object.entries(MACHINES_AND_ACTING),
])('%s', (_what, scenarios) => {
  test.each(scenarios)('%s', (_holds, parts, steps) => {
    expect(differences(playSteps(policyText(parts), steps))).toEqual([]);
  });
});

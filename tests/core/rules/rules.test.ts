import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { differences, playSteps, policyText } from '../../support/policies';
import { SCENARIOS } from './cases';

beforeAll(loadRegularLanguages);

describe.each(Object.entries(SCENARIOS))('%s', (_what, scenarios) => {
  test.each(scenarios)('%s', (_holds, parts, steps) => {
    expect(differences(playSteps(policyText(parts), steps))).toEqual([]);
  });
});

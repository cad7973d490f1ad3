import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { choicesOf } from '../../../src/core/proof/choices/choices';
import { ALONE } from '../../../src/core/proof/prove';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { ANY_STEPS } from '../../../src/core/steps/all-steps';
import { EXAMPLES, HARBOUR, project } from '../../support/policies';

const SOUND = join(EXAMPLES, 'sound');
const CAST = { ...ALONE, tabs: 2, thief: true, administrator: true };

/** Policies that together have every section. */
const POLICIES = [
  join(HARBOUR, 'cavrin.yaml'),
  join(EXAMPLES, 'fennel-row', 'cavrin.yaml'),
  ...readdirSync(SOUND).map((name) => join(SOUND, name)),
];

beforeAll(loadRegularLanguages);

test('a proof tries every kind of step, or its kind says why it need not', () => {
  const tried = new Set(
    POLICIES.flatMap((file) => {
      const { stage } = project(readFileSync(file, 'utf8'));
      return choicesOf(stage, CAST).moves.map(({ action }): string => action.verb);
    }),
  );
  const said = new Set(ANY_STEPS.filter(({ untried }) => untried !== undefined).map(({ verb }) => verb));
  // A kind that is in neither is forgotten; one that is in both says what is not so.
  expect(ANY_STEPS.map(({ verb }) => verb).filter((verb) => tried.has(verb) === said.has(verb))).toEqual([]);
});

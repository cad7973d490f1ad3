import fc from 'fast-check';
import { tryFurther, tryOut, type Trial } from '../../../src/core/walks/trial';
import { writtenWalkStep } from '../../../src/core/walks/written';
import { walksOf } from '../../support/generated-walks';
import { harbour } from '../../support/policies';

const { stage } = harbour();

function trialOf(tried: ReturnType<typeof tryOut>): Trial {
  if ('faults' in tried) throw new Error(tried.faults.map(({ message }) => message).join('; '));
  return tried;
}
const told = ({ results }: Trial) =>
  results.map(({ step, time, outcome, differences, impossible, broken }) => ({
    action: step.action,
    ...{ at: step.at, time, outcome, differences, impossible, broken },
  }));

test('steps that are tried one after another come out as all of them tried at once', () => {
  fc.assert(
    fc.property(walksOf(stage.app.policy, 12), ({ steps }) => {
      const written = steps.map((step) => writtenWalkStep(step));
      const all = tryOut(stage, written);
      // What cannot be written in a walk is nothing that anybody types.
      fc.pre(!('faults' in all));
      const one = written.reduce(
        (trial, step) => trialOf(tryFurther(stage, trial, step)),
        trialOf(tryOut(stage, [])),
      );
      expect(told(one)).toEqual(told(trialOf(all)));
      expect(one.walk.steps).toHaveLength(steps.length);
    }),
  );
});

test('an account that a step made is known to the next, and to no trial before it', () => {
  const begun = trialOf(tryOut(stage, []));
  const signedUp = trialOf(tryFurther(stage, begun, { 'sign-up': { as: 'zoe', password: 'z-1' } }));
  const login = { login: 'zoe' };
  expect('faults' in tryFurther(stage, signedUp, { logout: null })).toBe(false);
  expect('faults' in tryFurther(stage, signedUp, login)).toBe(false);
  expect('faults' in tryFurther(stage, begun, login)).toBe(true);
});

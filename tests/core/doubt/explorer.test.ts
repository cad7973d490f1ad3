import { Explorer } from '../../../src/core/doubt/explorer';
import { stepWords } from '../../../src/core/steps/all-steps';
import { playSteps, type StepResult } from '../../../src/core/walks/runner';
import { policyText, project } from '../../support/policies';

type Parts = Parameters<typeof policyText>[0];

const isAlike = ({ outcome: one }: StepResult, { outcome: two }: StepResult) =>
  one.lands === two.lands && one.status === two.status && one.seenAs === two.seenAs;

/** The walk by which two policies are told apart, in words; null where none is found. */
function apart(one: Parts, two: Parts, most?: number): readonly string[] | null {
  const [before, after] = [project(policyText(one)).stage, project(policyText(two)).stage];
  const steps = new Explorer(before).apart(after, isAlike, most);
  if (steps === null) return null;
  // It is a walk that both can be played by, and only its last step comes out otherwise.
  const [a, b] = [playSteps(before, steps).steps, playSteps(after, steps).steps];
  const alike = a.map((result, at) => b[at] !== undefined && isAlike(result, b[at]));
  expect(alike).toEqual([...steps.slice(1).map(() => true), false]);
  return steps.map(
    ({ action, browser }) => `${browser === 'browser' ? '' : `${browser}: `}${stepWords(action)}`,
  );
}

test.each<[Parts, Parts, readonly RegExp[]]>([
  [{}, { session: 'session: { idle: 1h, absolute: 8h }' }, [/^login ann/, /^wait 30m/, /./]],
  [{}, { logout: 'logout: { submit: POST /out, lands: /in }' }, [/^send POST \/out/]],
  [
    {},
    { landing: 'landing: [{ role: chief, to: /desk }, { role: clerk, to: /desk }, { otherwise: / }]' },
    [/^login bo/],
  ],
  [
    {},
    {
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: everyone } }',
    },
    [/^visit \/hall/],
  ],
  // What only somebody with a copy sees: the browser itself drops its cookie.
  [
    {},
    { logout: 'logout: { submit: POST /out, ends: [] }' },
    [/^login/, /^copy session to thief/, /^thief: /],
  ],
])('the shortest walk tells %j from %j', (one, two, shape) => {
  const found = apart(one, two, 20_000);
  expect(found).toHaveLength(shape.length);
  for (const [at, words] of shape.entries()) expect(found?.[at]).toMatch(words);
});

test('policies that say the same in other words are not told apart, and the bound is kept', () => {
  expect(apart({}, { rules: 'rules: [{ path: /desk, for: [clerk] }]' }, 2_000)).toBeNull();
  expect(apart({}, { session: 'session: { idle: 1h, absolute: 8h }' }, 5)).toBeNull();
});

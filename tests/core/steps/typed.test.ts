import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadProject } from '../../../src/core/walks/project';
import { sourceOf } from '../../../src/core/language/text/source';
import { readTyped, TYPED } from '../../../src/core/steps/typed';
import { NOTHING_EXPECTED, type Step } from '../../../src/core/steps/walk';
import { tryOut } from '../../../src/core/walks/trial';
import { writtenWalkStep } from '../../../src/core/walks/written';
import { stageOf } from '../../../src/core/play/stage';
import { actionWords } from '../../../src/render/step-words';
import { EXAMPLES, policyText, project, shipped, SHIPPED } from '../../support/policies';

/** A step as written, without what it expects; passwords are not in the words of reports. */
function withoutPasswords(written: Record<string, unknown>): unknown {
  return JSON.parse(
    JSON.stringify(written, (key, value: unknown) =>
      key === 'password' ? undefined : typeof value === 'object' && isLogin(value) ? value.as : value,
    ),
  );
}

function isLogin(value: object | null): value is { as: string } {
  return (
    value !== null && 'as' in value && Object.keys(value).every((key) => key === 'as' || key === 'password')
  );
}

async function allSteps(): Promise<Step[]> {
  const sound = await Promise.all(
    readdirSync(join(EXAMPLES, 'sound')).map((name) =>
      loadProject(sourceOf(name, readFileSync(join(EXAMPLES, 'sound', name), 'utf8')), []),
    ),
  );
  return [...SHIPPED.map(shipped), ...sound].flatMap(({ walks }) => walks.flatMap(({ steps }) => steps));
}

test('what reports call a step can be typed, and is that step', async () => {
  const verbs = new Set<string>();
  for (const step of await allSteps()) {
    // The new password is all that is said of it, and reports do not tell it.
    if (step.action.verb === 'change-password') continue;
    const where = step.browser === 'browser' ? '' : `in ${step.browser}: `;
    const line = where + actionWords(step);
    const typed = readTyped(line);
    const plain = { ...step, named: null, expects: NOTHING_EXPECTED, expectBroken: [] };
    expect([line, withoutPasswords(typed.step ?? {})]).toEqual([
      line,
      withoutPasswords(writtenWalkStep(plain)),
    ]);
    verbs.add(step.action.verb);
  }
  expect([...TYPED.keys()].filter((verb) => !verbs.has(verb))).toEqual(['change-password', 'plant']);
});

test.each([
  ['login: ann', { login: 'ann' }],
  ['login ann as chief password x y', { login: { as: 'ann', role: 'chief', password: 'x y' } }],
  ['login ann, wrong password', { login: { as: 'ann', password: 'a wrong password' } }],
  [
    'in thief: visit /a?b=c from https://mail.example',
    { visit: '/a?b=c', from: 'https://mail.example', in: 'thief' },
  ],
  ['visit /a, connected from 10.1.2.3', { visit: '/a', 'connects-from': '10.1.2.3' }],
  ['reset ann late new one', { reset: { as: 'ann', password: 'new one', late: true } }],
  ['set-roles ann none', { 'set-roles': { as: 'ann', roles: [] } }],
  ['set-flag a on, b off', { 'set-flag': { a: 'on', b: 'off' } }],
  ['back 2', { back: 2 }],
  ['plant session in other one', { plant: { what: 'session', in: 'other one' } }],
  ['change-password a new one', { 'change-password': { new: 'a new one' } }],
])('%s is read', (line, step) => {
  expect(readTyped(line)).toEqual({ step });
});

test.each(['', 'vist /a', 'copy session', 'wait', 'login', 'plant-answer ann', 'logout now'])(
  'what is typed otherwise, such as "%s", is no step',
  (line) => {
    expect(readTyped(line).step).toBeNull();
  },
);

test('names that a policy does not have are told as in walks', () => {
  const { policy } = project(policyText());
  if (policy === null) throw new Error('no policy');
  const tried = tryOut(stageOf(policy), [{ login: 'bob' }]);
  expect('faults' in tried && tried.faults.map(({ code }) => code)).toEqual(['unknown-account']);
});

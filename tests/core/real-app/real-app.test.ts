import { stageOf } from '../../../src/core/play/stage';
import { commandWords } from '../../../src/core/real-app/command-words';
import { driversFor } from '../../../src/core/real-app/drivers';
import { slackened } from '../../../src/core/real-app/real-time';
import { slotsOf, timetableOf } from '../../../src/core/real-app/timetable';
import { readProject } from '../../../src/core/walks/project';
import { playWalk } from '../../../src/core/walks/runner';
import { sourceOf } from '../../../src/core/language/text/source';

const POLICY = `cavrin: 1
app: A
origin: https://a.example
accounts: { ines: { password: p }, tomas: { password: q } }
pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: signed-in } }
login: { page: /in, submit: POST /in, wrong: /in?wrong }
landing: [{ otherwise: /desk }]
logout: { submit: POST /out }
`;
/** In the place of more of the policy: its login counts wrong passwords. */
const ATTEMPTS = 'attempts';

/** The walks of a policy, played by it. */
function played(more: string, walks: readonly string[]) {
  const list = walks.map((steps, at) => `  - { name: w${at}, steps: [${steps}] }`).join('\n');
  const base =
    more === ATTEMPTS
      ? POLICY.replace('/in?wrong', '/in?wrong, attempts: { most: 2, within: 1h, pause: 1h }')
      : POLICY + more;
  const text = `${base}\nwalks:\n${list}\n`;
  const { policy, walks: read, diagnostics } = readProject(sourceOf('cavrin.yaml', text), []);
  if (policy === null) throw new Error(JSON.stringify(diagnostics.map(({ message }) => message)));
  const stage = stageOf(policy);
  return { stage, walks: read, results: read.map((walk) => playWalk(stage, walk)) };
}

test.each([
  ['node app.mjs', ['node', 'app.mjs']],
  ['  ./age.sh   {seconds} ', ['./age.sh', '{seconds}']],
  [`sh -c 'echo "a b" > c'`, ['sh', '-c', 'echo "a b" > c']],
  ['a"b c"d \'\' ""', ['ab cd', '', '']],
  ['', []],
  ['node "open', null],
  [`it's`, null],
])('the words of the command %j', (command, words) => {
  expect(commandWords(command)).toEqual(words);
});

test.each([
  [
    'walks that leave each other alone share the app',
    '',
    ['{ login: ines }', '{ login: ines }', '{ wait: 1m }'],
    [[0, 1, 2]],
  ],
  [
    'a login that ends others of its account does not',
    'session: { at-once: latest-wins }',
    ['{ login: ines }, { visit: /desk }', '{ login: ines }, { visit: /desk }', '{ login: tomas }'],
    [[1, 2], [0]],
  ],
  [
    'wrong passwords add up',
    ATTEMPTS,
    [
      '{ login: { as: ines, password: x } }',
      '{ login: { as: ines, password: x } }, { login: ines }',
      '{ login: tomas }',
    ],
    [[0, 2], [1]],
  ],
  [
    'who changes an account has the app to themselves',
    '',
    ['{ login: ines }', '{ suspend: ines }', '{ login: tomas }'],
    [[0, 2], [1]],
  ],
  [
    'and so has who signs up',
    'sign-up: { page: /join, submit: POST /join }',
    ['{ sign-up: { as: nell, password: x } }', '{ login: ines }', '{ visit: / }'],
    [[1, 2], [0]],
  ],
  [
    'those who change different accounts share a round',
    '',
    [
      '{ login: ines }, { suspend: ines }, { visit: /desk }',
      '{ suspend: tomas }, { login: tomas }',
      '{ login: tomas }',
    ],
    [[2], [0, 1]],
  ],
  [
    'and who starts the app again shares none',
    '',
    ['{ restart-app: }', '{ login: ines }', '{ suspend: tomas }'],
    [[1], [2], [0]],
  ],
])('%s', (_, more, walks, rounds) => {
  const { stage, results } = played(more, walks);
  expect(timetableOf(stage, results)).toEqual(rounds);
});

test('steps are played in order of time, and those of a walk in their own order', () => {
  const { results } = played('', [
    '{ wait: 2s }, { visit: / }',
    '{ visit: / }, { wait: 1s }, { visit: /in }',
  ]);
  expect(slotsOf(results, [0, 1]).map(({ walk, step, time }) => [time, walk, step])).toEqual([
    [0, 1, 0],
    [1, 1, 1],
    [1, 1, 2],
    [2, 0, 0],
    [2, 0, 1],
  ]);
});

test.each([
  [
    'short of a limit: a second less',
    'session: { idle: 1m }',
    '{ login: ines }, { wait: { short-of: session-idle } }, { visit: /desk }',
    [0, 58, 58],
  ],
  [
    'past a limit: a second more',
    'session: { idle: 1m }',
    '{ login: ines }, { wait: { past: session-idle } }, { visit: /desk }',
    [0, 61, 61],
  ],
  [
    'both of one limit',
    'session: { absolute: 1m, renews: never }',
    '{ login: ines }, { wait: 59s }, { visit: /desk }, { wait: 1s }, { visit: /desk }',
    [0, 58, 58, 61, 61],
  ],
  [
    'twice short of a limit that each visit renews',
    'session: { idle: 1m }',
    '{ login: ines }, { wait: 59s }, { visit: /desk }, { wait: 59s }, { visit: /desk }',
    [0, 58, 58, 116, 116],
  ],
  [
    'far from any limit: as it is',
    'session: { idle: 1h }',
    '{ login: ines }, { wait: 1m }, { visit: /desk }',
    [0, 60, 60],
  ],
])('real waiting, %s', (_, more, steps, times) => {
  const { stage, walks } = played(more, [steps]);
  const [walk] = walks;
  expect(walk && slackened(stage, walk)?.steps.map(({ time }) => time)).toEqual(times);
});

test('limits that lie a second apart are not told apart by real waiting', () => {
  const { stage, walks } = played('session: { idle: 2s, absolute: 3s }', [
    '{ login: ines }, { wait: 1s }, { visit: /desk }, { wait: 1s }, { visit: /desk }, { wait: 1s }, { visit: /desk }',
  ]);
  const [walk] = walks;
  expect(walk && slackened(stage, walk)).toBeNull();
});

test.each([
  ['plain pages are judged by requests', '', '{ login: ines }, { visit: /desk }', ['http']],
  ['the back button is not', '', '{ visit: / }, { visit: /in }, { back: }', ['browser']],
  [
    'nor is a cookie that says nothing of other sites',
    'session: { cookie: { same-site: unset } }',
    "{ login: ines }, { visit: /desk, from: 'https://mail.example' }",
    ['browser'],
  ],
  [
    'a cookie that says it is',
    '',
    "{ login: ines }, { visit: /desk, from: 'https://mail.example' }",
    ['http'],
  ],
  [
    'both are asked where neither tells all',
    '',
    '{ visit: /, connects-from: 10.1.2.3 }, { visit: /in }, { back: }',
    ['http', 'browser'],
  ],
])('%s', (_, more, steps, drivers) => {
  const { stage, results } = played(more, [steps]);
  const [result] = results;
  expect(result && driversFor(stage, result)).toEqual(drivers);
});

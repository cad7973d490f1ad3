import { jsonSchemaOf } from '../../../src/core/walks/json-schema';
import { playSteps as played } from '../../../src/core/walks/runner';
import { writtenWalkStep } from '../../../src/core/walks/written';
import { differences, faults, playSteps, policyText, project } from '../../support/policies';

const POLICY = policyText({
  login: 'login: { page: /in, submit: POST /in, by: both, return: {} }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall/:id: { for: signed-in }, /api/x: { kind: api, for: signed-in } }',
  more: [
    'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
    'menu: [{ to: /desk, text: Desk }, { to: /safe, text: Safe }]',
    'remember: { life: 30d }',
  ].join('\n'),
});

/** Each thing that a step can expect: what holds, what does not, and what is then told. */
const EXPECTED: readonly (readonly [step: string, key: string, holds: string, not: string, told: string])[] =
  [
    ['visit: /desk', 'lands', '/desk', '/safe', '/safe / /desk'],
    ['visit: /safe', 'status', '403', '200', '200 / 403'],
    ['visit: /desk', 'seen-as', 'ann', 'bo', 'bo / ann'],
    ['visit: /desk', 'seen-as', 'ann', 'guest', 'guest / ann'],
    ['visit: /safe', 'why', 'role', 'served', 'served / role'],
    ['visit: /in', 'via', '[/in]', '[]', 'no redirect / /in'],
    ['visit: /desk', 'via', '[]', '[/in, /desk]', '/in → /desk / no redirect'],
    ['visit: /desk', 'session', 'live', 'none', 'none / live'],
    ['visit: /desk', 'refreshes', '0', '1', '1 / 0'],
    ['visit: /desk', 'shows', '/desk', '[/desk, /safe]', '/safe / /desk'],
    ['visit: /desk', 'hides', '[/safe]', '[/safe, /desk]', '/desk / /desk'],
    [
      'visit: /desk',
      'holds',
      '[session, access, refresh]',
      'remember',
      'remember / session, access, refresh',
    ],
    ['visit: /desk', 'lacks', 'remember', '[remember, access]', 'access / session, access, refresh'],
    [
      'visit: /desk',
      'reaches',
      '[/api/x, /, /desk, /hall/:id]',
      '[/desk]',
      '/desk / /, /api/x, /desk, /hall/:id',
    ],
  ];

test.each(EXPECTED)('%s: %s %s', (step, key, holds, not, told) => {
  const bo = 'login: bo, in: b';
  const run = (value: string) =>
    differences(playSteps(POLICY, ['{ login: ann }', `{ ${bo} }`, `{ ${step}, ${key}: ${value} }`]));
  expect(run(holds)).toEqual([]);
  expect(run(not)).toEqual([`2: ${key} ${told}`]);
});

test('a page that was refused where it lands is not landed on, unless the step says so', () => {
  const run = (more: string) =>
    differences(playSteps(POLICY, ['{ login: ann }', `{ visit: /safe, lands: /safe${more} }`]));
  expect(run('')).toEqual(['1: lands /safe / /safe was asked for and refused: 403, role']);
  expect(run(', status: 403')).toEqual([]);
});

test('a path is the same however it is written', () => {
  const lands = (address: string) =>
    differences(playSteps(POLICY, ['{ login: ann }', `{ visit: /hall/a?x=1, lands: "${address}" }`]));
  for (const same of ['/hall/a', '/hall/%61', '/hall/a?x=1']) expect(lands(same)).toEqual([]);
  for (const other of ['/hall/b', '/hall/a?x=2', '/hall/a?']) {
    expect(lands(other)).toEqual([`1: lands ${other} / /hall/a?x=1`]);
  }
});

const CARELESS = POLICY.replace(
  'logout: { submit: POST /out }',
  'logout: { submit: POST /out, ends: [], clears: [] }',
);

describe('laws that are said to be broken', () => {
  const run = (known: readonly string[], whole: readonly string[] = []) => {
    const steps = [
      '{ login: ann }',
      ...known.map((each) => (each === '' ? '{ logout: }' : `{ logout: , expect-broken: ${each} }`)),
    ];
    const text = `walks:\n  - name: W\n${whole.length === 0 ? '' : `    expect-broken: [${whole.join(', ')}]\n`}    steps:\n${steps.map((each) => `      - ${each}\n`).join('')}`;
    const { stage, walks } = project(CARELESS, [text]);
    return differences({
      walk: walks[0] as never,
      ...played(stage, walks[0]?.steps ?? [], walks[0]?.expectBroken),
    });
  };

  test('must be broken, at that step or, for a whole walk, somewhere', () => {
    expect(run(['logout-final'])).toEqual([]);
    expect(run(['new-id'])).toEqual(['1: expect-broken new-id / held']);
    expect(run(['logout-final', ''])).toEqual([]);
    expect(run(['logout-final', 'new-id'])).toEqual(['2: expect-broken new-id / held']);
    expect(run([''], ['logout-final'])).toEqual([]);
    // It is told once, at the last step, and nothing of a step is lost by it.
    expect(run(['new-id', ''], ['way-in'])).toEqual([
      '1: expect-broken new-id / held',
      '2: expect-broken way-in / held',
    ]);
  });

  test('that is not named is told of', () => {
    const { stage, walks } = project(CARELESS, [
      'walks: [{ name: W, steps: [{ login: ann }, { logout: , expect-broken: new-id }] }]',
    ]);
    const { passed, steps } = played(stage, walks[0]?.steps ?? []);
    expect(passed).toBe(false);
    expect(steps[1]?.broken.map(({ law }) => law)).toContain('logout-final');
  });

  test('that are only advice fail no walk', () => {
    const text = POLICY.replace('{ to: /safe, text: Safe }', '{ to: /safe, text: Safe, for: signed-in }');
    const { passed, steps } = playSteps(text, ['{ login: ann }', '{ visit: /desk }']);
    expect(steps.flatMap(({ broken }) => broken.map(({ law }) => law))).toContain('menu-honest');
    expect(passed).toBe(true);
  });
});

test.each([
  ['an account that there is not', '{ visit: /desk, seen-as: eve }', 'unknown-account 4:34'],
  ['a page that there is not', '{ visit: /desk, reaches: [/nowhere] }', 'unknown-page-path 4:35'],
  [
    'a start elsewhere for a step that goes nowhere',
    '{ logout: , from: https://other.example }',
    'bad-value 4:21',
  ],
  [
    'expectations of a step that asks nothing',
    '{ clear-cookies: , lands: /desk }',
    'cannot-be-expected 4:28',
  ],
  ['two steps in one', '{ visit: /desk, logout: }', 'two-steps 4:9'],
  ['no step at all', '{ lands: /desk }', 'no-step 4:9'],
  ['a law that there is not', '{ visit: /desk, expect-broken: no-law }', 'wrong-type 4:40'],
])('%s is told with its place', (_what, step, said) => {
  const walks = `walks:\n  - name: W\n    steps:\n      - ${step}\n`;
  expect(faults(POLICY, [walks])).toEqual([said]);
});

test('a name that a step is given, and where it speaks from, are read', () => {
  const { walks } = project(POLICY, [
    'walks: [{ name: W, steps: [{ visit: /desk, named: first, connects-from: 10.1.2.3, in: b, from: "https://x.example", seen-as: ann }] }]',
  ]);
  const [step] = walks[0]?.steps ?? [];
  expect(step).toMatchObject({ named: 'first', connectsFrom: '10.1.2.3', browser: 'b' });
  expect(step && writtenWalkStep(step)).toEqual({
    visit: '/desk',
    named: 'first',
    from: 'https://x.example',
    in: 'b',
    'connects-from': '10.1.2.3',
    'seen-as': 'ann',
  });
  const plain = project(POLICY, ['walks: [{ name: W, steps: [{ visit: /desk }] }]']).walks[0]?.steps[0];
  expect(plain && writtenWalkStep(plain)).toEqual({ visit: '/desk' });
});

test('the schemas for editors tell what each section is for', () => {
  const policy = jsonSchemaOf('policy') as {
    title: string;
    properties: Record<string, { description?: string }>;
  };
  expect(policy.title).toBe('A policy of Cavrin');
  expect(Object.keys(policy.properties)).toEqual(expect.arrayContaining(['pages', 'walks', 'session']));
  expect(policy.properties['session']?.description).toBe('How long a session lasts, and its cookie.');
  const walks = jsonSchemaOf('walks') as typeof policy;
  expect([walks.title, Object.keys(walks.properties)]).toEqual(['Walks of Cavrin', ['walks']]);
  expect(walks.properties['walks']?.description).toBeUndefined();
});

describe('a status that says that all went well is that of what was asked for', () => {
  test('and not of the login page to which a guest is sent, unless the step says where it leads', () => {
    const run = (more: string) => differences(playSteps(POLICY, [`{ visit: /desk, status: 200${more} }`]));
    expect(run('')).toEqual([
      '0: status 200 / that of /in?back=/desk: what was asked for was refused, guest',
    ]);
    for (const more of [', lands: /in', ', seen-as: guest', ', why: guest']) expect(run(more)).toEqual([]);
  });

  test.each([
    ['a page', ['{ login: ann }', '{ visit: /desk, status: 200 }']],
    ['a login', ['{ login: ann, status: 200 }']],
    ['a form that is sent on', ['{ login: ann }', '{ send: POST /desk, status: 200 }']],
    ['a call', ['{ login: ann }', '{ send: GET /api/x, status: 200 }']],
  ])('%s', (_what, steps) => {
    expect(differences(playSteps(POLICY, steps))).toEqual([]);
  });
});

describe('a step that comes to nothing fails', () => {
  const text = policyText({
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /me: { for: signed-in } }',
    landing: 'landing: [{ otherwise: / }]',
    more: [
      'password: { change: { page: /me, submit: POST /me }, reset: { page: /in, submit: POST /forgot, link: /reset/:token, life: 30m } }',
      'link-login: { page: /in, submit: POST /mail, link: /by/:token, life: 10m }',
    ].join('\n'),
  });

  test.each([
    ['{ login: ann }', '{ ask-reset: ann }', 'that a link is asked for'],
    ['{ login: ann }', '{ ask-link: ann }', 'that a link is asked for'],
    ['{ login: ann }', '{ login: { as: bo, password: wrong } }', 'that a login form is sent'],
    ['{ visit: / }', '{ change-password: { old: wrong, new: other } }', 'that a password is changed'],
    ['{ login: ann }', '{ clear-cookies: sesion }', 'that the cookie sesion is dropped'],
  ])('after %s: %s', (before, step, what) => {
    const [told = ''] = differences(playSteps(text, [before, step]));
    expect(told).toContain(`1: step ${what}`);
  });

  test('and one that was sent, if in vain, does not', () => {
    const steps = [
      '{ ask-reset: nobody }',
      '{ login: { as: ann, password: wrong } }',
      '{ login: ann }',
      '{ change-password: { old: wrong, new: other } }',
      '{ clear-cookies: session }',
    ];
    expect(differences(playSteps(text, steps))).toEqual([]);
  });
});

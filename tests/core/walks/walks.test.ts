import { playWalk } from '../../../src/core/walks/runner';
import type { Walk } from '../../../src/core/steps/walk';
import { DEADLINES } from '../../../src/core/vocabulary/deadlines';
import { differences, harbour, playSteps, policyText, project } from '../../support/policies';

const TOKENS = 'tokens: { access: { life: 5m, leeway: 5s }, refresh: { life: 1h } }';
const both = policyText({
  login: 'login: { page: /in, submit: POST /in, by: both, return: {} }',
  rules: 'rules: [{ path: /api/**, kind: api, for: signed-in }]',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /api/x: {} }',
  more: TOKENS,
});

describe('expectations', () => {
  test('what differs is told with both values, and the rest goes on', () => {
    const result = playSteps(policyText(), [
      '{ visit: /desk, lands: /desk, status: 403, seen-as: ann, why: role, via: [], session: live, refreshes: 1 }',
      '{ login: ann, lands: /desk }',
    ]);
    expect(result.passed).toBe(false);
    expect(differences(result)).toEqual([
      '0: lands /desk / /in?back=/desk',
      '0: status 403 / 200',
      '0: seen-as ann / guest',
      '0: why role / guest',
      '0: via no redirect / /desk',
      '0: session live / none',
      '0: refreshes 1 / 0',
    ]);
  });

  test('a query counts only where it is written', () => {
    const steps = [
      '{ visit: /desk?x, lands: /in }',
      '{ visit: /desk?x, lands: "/in?back=/desk%3Fx" }',
      '{ visit: /desk?x, lands: /in?back=/desk }',
    ];
    expect(differences(playSteps(policyText(), steps))).toEqual([
      '2: lands /in?back=/desk / /in?back=/desk%3Fx',
    ]);
  });

  test('a step that cannot be played ends the walk', () => {
    const result = playSteps(both, ['{ reload: }', '{ visit: / }']);
    expect([result.passed, result.steps.length]).toEqual([false, 1]);
    expect(differences(result)).toEqual(['0: this browser shows no page yet that could be reloaded']);
  });
});

describe('waiting', () => {
  test.each([
    ['session-idle', 'live', 1799, 1800],
    ['session-absolute', 'none', 28_799, 28_800],
    ['access-expiry', 'live', 304, 305],
    ['refresh-expiry', 'none', 3599, 3600],
  ])('up to %s', (deadline, session, last, first) => {
    const result = playSteps(both, [
      '{ login: ann }',
      `{ wait: { short-of: ${deadline} }, session: ${session} }`,
      `{ wait: { past: ${deadline} } }`,
    ]);
    expect(differences(result)).toEqual([]);
    expect(result.steps.map((step) => step.time)).toEqual([0, last, first]);
  });

  test.each(DEADLINES)('for %s where nothing is held cannot be played', (deadline) => {
    const all = `${both.replace('return: {} }', 'return: {}, attempts: { most: 1, within: 1m, pause: 1m } }')}\nsecond-factor: { page: /in, submit: POST /code, life: 5m }\nremember: { life: 1d }`;
    expect(differences(playSteps(all, [`{ wait: { past: ${deadline} } }`]))[0]).toContain('holds nothing');
  });

  test('short of a deadline that is over cannot be played; past it is no wait', () => {
    const over = playSteps(both, [
      '{ login: ann }',
      '{ wait: 1h }',
      '{ wait: { past: access-expiry } }',
      '{ wait: { short-of: access-expiry } }',
    ]);
    expect(over.steps[2]?.time).toBe(3600);
    expect(differences(over)).toEqual(['3: access-expiry is over already']);
  });
});

describe('telling why', () => {
  test.each([
    ['a way that was served', ['{ visit: /, why: served, via: [] }']],
    [
      'the first refusal on the way',
      ['{ login: cy }', '{ visit: /safe, why: role, lands: /safe, status: 403 }'],
    ],
    [
      'a login refused after its page was served',
      ['{ login: { as: ann, password: x }, why: wrong-password, lands: /in }'],
    ],
    [
      'a refresh that mended a 401 is no refusal',
      [
        '{ login: ann }',
        '{ wait: { past: access-expiry } }',
        '{ send: GET /api/x, why: served, refreshes: 1, via: [], lands: /desk }',
      ],
    ],
    [
      'a refresh that failed is the reason, not the 401',
      [
        '{ login: ann }',
        '{ wait: { past: refresh-expiry } }',
        '{ send: GET /api/x, why: refresh-expired, via: [/api/x], lands: /in }',
      ],
    ],
    [
      'another origin',
      ['{ visit: "https://other.example/x", why: off-origin, lands: "https://other.example/x" }'],
    ],
  ])('%s', (_what, steps) => {
    expect(differences(playSteps(both, steps))).toEqual([]);
  });

  test('a secure cookie over plain http is not kept', () => {
    const plain = policyText().replace('https:', 'http:');
    expect(
      differences(
        playSteps(plain, [
          '{ login: ann, lands: /in, why: cookie-not-kept, session: none }',
          '{ visit: /desk, why: guest }',
        ]),
      ),
    ).toEqual([]);
    const loopback = policyText().replace('https://app.example', 'http://localhost:3000');
    expect(differences(playSteps(loopback, ['{ login: ann, lands: /desk, session: live }']))).toEqual([]);
  });

  test('a careless return address is followed off the site', () => {
    const careless = policyText({
      login: 'login: { page: /in, submit: POST /in, return: { accept: leading-slash } }',
    });
    expect(
      differences(
        playSteps(careless, [
          '{ visit: /in?back=//evil.example/x }',
          '{ login: ann, why: off-origin, lands: "https://evil.example/x" }',
        ]),
      ),
    ).toEqual([]);
  });

  test('a loop of redirects ends after twenty', () => {
    const loop = policyText({ more: 'refusals: { role: /safe }' });
    const result = playSteps(loop, ['{ login: ann }', '{ visit: /safe, why: redirect-loop }']);
    expect(differences(result)).toEqual([]);
    expect(result.steps[1]?.played.exchanges).toHaveLength(21);
  });
});

test('a form is sent to a page, and a call is made to an api', () => {
  const result = playSteps(both, [
    '{ login: ann }',
    '{ send: POST /hall, lands: /hall, status: 200 }',
    '{ send: POST /api/x, lands: /hall, status: 200 }',
  ]);
  expect(differences(result)).toEqual([]);
  expect(result.steps.slice(1).map((step) => step.played.exchanges[0]?.purpose)).toEqual([
    'navigate',
    'call',
  ]);
});

test('every walk of the harbour comes out as it says, and the same each time', () => {
  const { stage, walks } = harbour();
  for (const walk of walks) {
    const result = playWalk(stage, walk);
    expect(differences(result)).toEqual([]);
    expect(playWalk(stage, walk)).toEqual(result);
  }
});

describe('a step that does not do what it says fails, unless it says so', () => {
  const text = policyText({
    accounts:
      'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] }, di: { password: d-4, roles: [clerk], second-factor: true }, ed: { password: e-5, state: suspended } }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] } }',
    more: [
      'second-factor: { page: /code, submit: POST /code, life: 5m }',
      'sign-up: { page: /join, submit: POST /join, then: confirm, lands: /in }',
      'confirm: { path: /confirm/:token, life: 1d }',
      'menu: [{ to: /safe, text: Safe, for: everyone }]',
    ].join('\n'),
  });

  test.each([
    ['a login that was refused', ['{ login: ed }'], 'that ed logs in / suspended', 'why: suspended'],
    [
      'a login of somebody else that left the visitor signed in',
      ['{ login: ann }', '{ login: bo }'],
      'that bo logs in / guests-only, seen as ann',
      'seen-as: ann',
    ],
    [
      'a login with the password of before',
      ['{ set-password: { as: ann, password: new } }', '{ login: ann }'],
      'that ann logs in / wrong-password',
      'lands: /in',
    ],
    [
      'a code that nobody asked for',
      ['{ login: ann }', '{ code: right }'],
      'that the app takes a code / guests-only, seen as ann',
      'why: guests-only',
    ],
    [
      'a wrong code that nobody asked for',
      ['{ code: wrong }'],
      'that the app takes a code / guest',
      'why: guest',
    ],
    [
      'a logout of a guest',
      ['{ logout: }'],
      'that somebody logs out / nobody was signed in',
      'seen-as: guest',
    ],
    [
      'a link that was used',
      ['{ sign-up: { as: nell, password: n } }', '{ confirm: nell }', '{ confirm: nell }'],
      'that the link of nell is taken / unknown-page',
      'status: 404',
    ],
    [
      'a link that leads to a refusal',
      ['{ visit: / }', '{ follow: Safe }'],
      'that the link leads to /safe / guest',
      'lands: /in',
    ],
  ])('%s', (_what, steps, told, expectation) => {
    expect(differences(playSteps(text, steps))).toEqual([`${steps.length - 1}: step ${told}`]);
    const last = (steps.at(-1) ?? '').replace(/ *\}$/, `, ${expectation} }`).replace(':,', ': null,');
    expect(differences(playSteps(text, [...steps.slice(0, -1), last]))).toEqual([]);
  });

  test('what was meant to be refused is no failure, nor a login that waits for its code', () => {
    const steps = [
      '{ login: { as: ann, password: wrong } }',
      '{ login: di }',
      '{ code: late }',
      '{ login: di }',
    ];
    expect(
      differences(playSteps(text, [...steps, '{ code: wrong }', '{ code: right }', '{ logout: }'])),
    ).toEqual([]);
  });

  test('where it would land anyway says nothing of a failure', () => {
    const both = ['{ login: ann }', '{ visit: / }'];
    expect(differences(playSteps(text, [...both, '{ login: ann, lands: /desk }']))).toEqual([
      '2: step that ann logs in / guests-only, seen as ann',
    ]);
  });
});

describe('landing at a page means that it is shown', () => {
  test.each([
    ['{ visit: /safe, lands: /safe }', ['1: lands /safe / /safe was asked for and refused: 403, role']],
    ['{ visit: /safe, lands: /safe, status: 403 }', []],
    [
      '{ visit: /nowhere, lands: /nowhere }',
      ['1: lands /nowhere / /nowhere was asked for and refused: 404, unknown-page'],
    ],
    ['{ visit: "/desk?at=%2Fropes", lands: "/desk?at=/ropes" }', []],
    ['{ visit: "/desk?a=1&b=x+y", lands: "/desk?b=x%20y&a=1" }', []],
    [
      '{ visit: "/desk?at=/ropes", lands: "/desk?at=/knots" }',
      ['1: lands /desk?at=/knots / /desk?at=/ropes'],
    ],
  ])('%s', (step, wanted) => {
    expect(
      differences(playSteps(policyText(), ['{ login: cy, lands: / }', step.replaceAll('/desk', '/hall')])),
    ).toEqual(wanted.map((each) => each.replaceAll('/desk', '/hall')));
  });
});

describe('a weakness that stands through a walk', () => {
  const careless = policyText({ logout: 'logout: { submit: POST /out, ends: [] }' });
  const steps = [
    '{ login: ann }',
    '{ copy: { what: session, to: thief } }',
    '{ logout: }',
    '{ visit: /desk, in: thief }',
    '{ visit: /hall, in: thief }',
  ];
  const laws = (all: string[], known = '') => {
    const text = `walks:\n  - name: W\n${known}    steps:\n${all.map((each) => `      - ${each}\n`).join('')}`;
    const { stage, walks } = project(careless, [text]);
    const result = playWalk(stage, walks[0] as Walk);
    return { passed: result.passed, broken: result.steps.map((step) => step.broken.map(({ law }) => law)) };
  };

  test('is told once, where it is first seen', () => {
    expect(laws(steps)).toEqual({ passed: false, broken: [[], [], ['logout-final'], [], []] });
  });

  test.each([2, 3, 4])('is known where step %i says so', (at) => {
    const known = steps.with(at, (steps[at] ?? '').replace(' }', ' , expect-broken: logout-final }'));
    expect(laws(known)).toEqual({ passed: true, broken: [[], [], [], [], []] });
  });

  test('is known where the walk says so, and must be there then', () => {
    expect(laws(steps, '    expect-broken: logout-final\n').passed).toBe(true);
    expect(laws(steps.slice(0, 2), '    expect-broken: logout-final\n').passed).toBe(false);
  });
});

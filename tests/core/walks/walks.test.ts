import { playWalk } from '../../../src/core/walks/runner';
import { DEADLINES } from '../../../src/core/walks/walk';
import { differences, harbour, playSteps, policyText } from '../../support/policies';

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
    ['the first refusal on the way', ['{ login: cy }', '{ visit: /safe, why: role, lands: /safe }']],
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

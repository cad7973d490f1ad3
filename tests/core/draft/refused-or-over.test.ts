import type { Exchange } from '../../../src/core/draft/evidence';
import { drafted, exchange, LOGIN, recording } from '../../support/drafted';

const SENT_TO_LOGIN = (at: number, path: string, more = {}): Exchange[] => [
  exchange(at, `GET ${path} 302 /in?next=${path}`, more),
  exchange(at, `GET /in?next=${path}`, more),
];
const HELD = { cookies: new Map([['sid', '1']]) };
const GUEST = recording(null, [...SENT_TO_LOGIN(0, '/berths'), ...SENT_TO_LOGIN(2, '/ledger')]);
const PETRA = recording('petra', [...LOGIN(0, 'petra', '/berths'), exchange(4, 'GET /ledger', HELD)]);
const DROPPED = 'sid=; Path=/; Max-Age=0';

/** What somebody does after being sent from the ledger to the login, and whether the session is over by then. */
const CASES: [name: string, after: Exchange[], isOver: boolean][] = [
  [
    'a page of those who are signed in is shown next',
    [...SENT_TO_LOGIN(5, '/ledger', HELD), exchange(6, 'GET /berths', HELD)],
    false,
  ],
  [
    'much later, and a page is shown next',
    [...SENT_TO_LOGIN(500, '/ledger', HELD), exchange(501, 'GET /berths', HELD)],
    false,
  ],
  ['nothing comes next', SENT_TO_LOGIN(5, '/ledger', HELD), false],
  ['much later, and nothing comes next', SENT_TO_LOGIN(500, '/ledger', HELD), true],
  ['the cookie is not sent any more', [...SENT_TO_LOGIN(5, '/ledger'), ...SENT_TO_LOGIN(6, '/berths')], true],
  [
    'the app drops the cookie',
    SENT_TO_LOGIN(5, '/ledger', HELD).map((each) => ({
      ...each,
      setCookies: exchange(0, 'GET /', { sets: DROPPED }).setCookies,
    })),
    true,
  ],
];

test.each(CASES)('sent to the login while signed in: %s', (_name, after, isOver) => {
  const ines = recording('ines', [...LOGIN(0, 'ines', '/berths'), ...after]);
  const { lines, draft } = drafted({ recordings: [GUEST, ines, PETRA] });
  expect(lines).toContain(
    isOver
      ? '/ledger: { for: signed-in, methods: [GET] } # guess: only petra was recorded here'
      : '/ledger: { for: [for-ledger], methods: [GET] }',
  );
  expect(lines.includes('refusals: { role: login }')).toBe(!isOver);
  expect(draft.walks[1]?.steps).toContainEqual({ visit: '/ledger', lands: '/in' });
});

test('what sends everybody on who is signed in is a page for guests, and refuses no role', () => {
  const join = [exchange(7, 'GET /join 302 /berths', HELD), exchange(8, 'GET /berths', HELD)];
  const { lines } = drafted({
    recordings: [
      recording(null, [exchange(0, 'GET /join'), ...SENT_TO_LOGIN(1, '/berths')]),
      recording('ines', [...LOGIN(0, 'ines', '/berths'), ...join]),
    ],
  });
  expect(lines).toContain('/join: { for: guests, methods: [GET] }');
  expect(lines.filter((line) => line.startsWith('refusals:'))).toEqual([]);
});

describe('a sign-up', () => {
  const form = (path: string, more = {}) =>
    exchange(2, path, {
      sends: 'form',
      fields: [
        ['email', 'nell@real.example'],
        ['pass', 'Nells-own'],
        ['pass-again', 'Nells-own'],
      ],
      ...more,
    });
  const of = (sent: Exchange, ...after: Exchange[]) =>
    drafted({
      recordings: [GUEST, PETRA, recording('nell', [exchange(0, 'GET /join'), sent, ...after])],
    });

  test('that signs in at once has an account of its own making', () => {
    const sets = 'sid=2; Path=/; HttpOnly; Secure; SameSite=Lax';
    const { lines, draft, otherwise, text } = of(
      form('POST /join 303 /welcome', { sets }),
      exchange(3, 'GET /welcome', HELD),
      ...SENT_TO_LOGIN(4, '/ledger', HELD),
      exchange(6, 'GET /berths', HELD),
    );
    expect(otherwise).toEqual([]);
    expect(lines).toContain('sign-up: { page: /join, submit: POST /join, then: login, lands: /welcome }');
    expect(lines).toContain('/ledger: { for: [for-ledger], methods: [GET] }');
    expect(draft.walks[2]?.steps[1]).toEqual({
      'sign-up': { as: 'nell', password: 'nell-1' },
      lands: '/welcome',
    });
    expect(text).not.toMatch(/^ {2}nell:/m);
    expect(text + JSON.stringify(draft)).not.toContain('Nells-own');
  });

  test('after which one logs in says so, as a guess', () => {
    const { text, lines, otherwise } = of(
      form('POST /join 303 /joined'),
      exchange(3, 'GET /joined'),
      ...LOGIN(5, 'nell', '/berths'),
    );
    expect(otherwise).toEqual([]);
    expect(lines).toContain('sign-up: { page: /join, submit: POST /join, then: nothing, lands: /joined }');
    expect(text).toContain('# guess: whether a link has to be opened first\nsign-up:');
  });

  test('that was refused is none', () => {
    const { text } = of(form('POST /join 303 /join'), exchange(3, 'GET /join'));
    expect(text).not.toContain('sign-up:');
  });
});

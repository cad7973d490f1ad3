import type { Exchange } from '../../../src/core/draft/evidence';
import { drafted, exchange, recording } from '../../support/drafted';

const HOME = 'https://harbour.example';
const SHELL = { body: '<div id="app"></div><script src="/app.js"></script>' };
const load = (at: number, path: string): Exchange => exchange(at, `GET ${path}`, SHELL);

/** A call that script made from a page. */
const call = (at: number, line: string, from: string, more: Parameters<typeof exchange>[2] = {}): Exchange =>
  exchange(at, line, {
    isDocument: false,
    type: 'application/json',
    body: '[]',
    referer: HOME + from,
    ...more,
  });

const COOKIE = (value: string) =>
  `rt=${value}; Path=/auth; HttpOnly; Secure; SameSite=Strict; Max-Age=604800`;
const held = (value: string) => ({ cookies: new Map([['rt', value]]) });
const token = (value: string) => ({ body: JSON.stringify({ accessToken: value }) });
const login = (at: number, from = '/in'): Exchange =>
  call(at, 'POST /auth/login', from, {
    sends: 'json',
    fields: [
      ['email', 'ines@real.example'],
      ['password', 'Secret-77'],
    ],
    sets: COOKIE('r1'),
    ...token('a1'),
  });
const as = (value: string) => ({ bearer: value });

/** What script does first, whatever page is opened: it gets a token for its cookie, and asks who that is. */
const begin = (at: number, from: string, number: number): Exchange[] => [
  load(at, from),
  call(at + 0.1, 'POST /auth/renew', from, {
    ...held(`r${number}`),
    sets: COOKIE(`r${number + 1}`),
    ...token(`a${number + 1}`),
  }),
  call(at + 0.2, 'GET /api/me', from, as(`a${number + 1}`)),
];
const refused = (at: number, from: string): Exchange[] => [
  load(at, from),
  call(at + 0.1, 'POST /auth/renew 401', from),
];

const INES = recording('ines', [
  ...refused(0, '/berths'),
  // Script had gone to the login, which shows only once the form is sent.
  login(20, '/in?from=/berths'),
  call(20.1, 'GET /api/me', '/in?from=/berths', as('a1')),
  call(20.2, 'GET /api/berths', '/berths', as('a1')),
  ...begin(30, '/berths', 1),
  call(30.3, 'GET /api/berths', '/berths', as('a2')),
  ...begin(40, '/in', 2),
  call(40.3, 'GET /api/berths', '/berths', as('a3')),
  ...begin(50, '/ledger', 3),
  ...begin(60, '/tides', 4),
  call(60.3, 'GET /api/tides', '/tides', as('a5')),
]);
const PETRA = recording('petra', [
  ...refused(0, '/in'),
  login(10),
  call(10.1, 'GET /api/me', '/in', as('a1')),
  call(10.2, 'GET /api/ledger', '/ledger', as('a1')),
  // A link that script follows, long after the page was there.
  call(25, 'GET /api/berths', '/berths', as('a1')),
  call(40, 'POST /auth/logout 204', '/berths'),
]);
const GUEST = recording(null, [...refused(0, '/ledger'), ...refused(5, '/tides'), ...refused(10, '/in')]);

describe('a single page whose script holds a token, and gets a new one for a cookie', () => {
  const { text, lines, draft, otherwise } = drafted({ recordings: [INES, PETRA, GUEST] });
  const walkOf = (name: string) => draft.walks.find((walk) => walk.name.endsWith(name))?.steps ?? [];

  test('comes out as it was recorded', () => {
    expect(otherwise).toEqual([]);
  });

  test('has the calls of each page, and none that script makes everywhere', () => {
    expect(lines).toEqual(
      expect.arrayContaining([
        '/berths: { for: signed-in, methods: [GET], loads: [GET /api/berths], guard: browser }',
        '/tides: { for: signed-in, methods: [GET], loads: [GET /api/tides], guard: browser }',
      ]),
    );
    expect(text).not.toContain('loads: [GET /api/me');
  });

  test('tells by calls that were not made whom a page is not for, as a guess', () => {
    expect(text).toMatch(
      /# guess: .*that ines, a guest may not: no call of the page was recorded\n +\/ledger: \{ for: \[for-ledger\], methods: \[GET\], loads: \[GET \/api\/ledger\]/,
    );
    // What only such a page asks for is for no others.
    expect(text).toMatch(
      /# guess: .*that ines may not, as at the page that loads it\n +\/api\/ledger: \{ for: \[for-ledger\]/,
    );
  });

  test('has landings and the way back from where script went at once', () => {
    expect(lines).toContain('/in: { for: guests, methods: [GET], guard: browser }');
    expect(lines).toEqual(
      expect.arrayContaining(['- { role: for-ledger, to: /ledger }', '- { otherwise: /berths }']),
    );
    expect(lines.find((line) => line.startsWith('login:'))).toContain('by: tokens, return: { param: from }');
    expect(walkOf('ines').slice(0, 2)).toEqual([
      { visit: '/berths', lands: '/in' },
      { login: 'ines', lands: '/berths' },
    ]);
  });

  test('has the cookie as what renews tokens, and no session', () => {
    expect(lines).toContain(
      'tokens: { access: { life: 15m, kept: browser }, refresh: { life: 7d, rotates: true }, submit: POST /auth/renew, refused: 401 }',
    );
    expect(text).toContain('check: tokens-kept-in-browser');
    expect(text).not.toMatch(/^session:/m);
    expect(text).not.toContain('/auth/renew: ');
  });

  test('follows a link that script follows, and not where script goes by itself', () => {
    expect(walkOf('petra')).toEqual([
      { visit: '/in', lands: '/in' },
      { login: 'petra', lands: '/ledger' },
      { visit: '/berths', lands: '/berths' },
      { logout: null },
    ]);
    expect(walkOf('guest').map((step) => step['visit'])).toEqual(['/ledger', '/tides', '/in']);
  });
});

test('saved without cookies, the same is told but for the cookie itself', () => {
  const bare = [INES, PETRA, GUEST].map((each) => ({
    ...each,
    isWithoutCookies: each.person !== null,
    exchanges: each.exchanges.map((one) => ({ ...one, cookies: new Map(), setCookies: [], bearer: null })),
  }));
  const { lines, otherwise, draft } = drafted({ recordings: bare });
  expect(otherwise).toEqual([]);
  expect(draft.notes).toHaveLength(2);
  const whole = drafted({ recordings: [INES, PETRA, GUEST] }).lines;
  const isOfTokens = (line: string) => /^(?:tokens|accepted):|tokens-kept|# guess|^$/.test(line);
  expect(lines.filter((line) => !isOfTokens(line))).toEqual(whole.filter((line) => !isOfTokens(line)));
  expect(lines).toContain(
    'tokens: { access: { life: 15m, kept: tab }, refresh: { life: 1d }, submit: POST /auth/renew, refused: 401 }',
  );
});

describe('an app that lets no request say which page it comes from', () => {
  const mute = (landed: (one: Exchange) => string | null) =>
    [INES, PETRA, GUEST].map((each) => ({
      ...each,
      exchanges: each.exchanges.map((one) => {
        const to = landed(one);
        return { ...one, referer: null, landed: to === null ? null : HOME + to };
      }),
    }));

  test('tells little by its recording, and says so', () => {
    const recordings = mute(() => null).map((each) => ({
      ...each,
      exchanges: each.exchanges.map((one) => ({ ...one, path: one.path.replace(/^\/in$/, '/sign-in') })),
    }));
    const { lines, draft, otherwise } = drafted({ recordings });
    expect(otherwise).toEqual([]);
    expect(lines.find((line) => line.startsWith('login:'))).toContain('page: /sign-in,');
    expect(draft.notes).toEqual([
      expect.stringMatching(
        /^the requests in ines.har, petra.har, guest.har do not say which page they come from/,
      ),
    ]);
    expect(lines.join()).not.toContain('loads:');
  });

  test('tells the same where somebody looked where script had gone', () => {
    const OPEN: Record<string, string> = {
      '0': '/in?from=/berths',
      '20': '/berths',
      '40': '/berths',
      '50': '/berths',
    };
    const { lines, draft, otherwise } = drafted({
      recordings: mute(({ at, path, isDocument }) =>
        isDocument || path === '/auth/login'
          ? path === '/berths' && at === 30
            ? path
            : (OPEN[String(at)] ?? path)
          : null,
      ).map((each) => (each.person === 'ines' ? each : { ...each, exchanges: [] })),
    });
    expect([otherwise, draft.notes.filter((note) => note.includes('Referrer'))]).toEqual([[], []]);
    expect(lines).toContain(
      '/berths: { for: signed-in, methods: [GET], loads: [GET /api/berths], guard: browser }',
    );
    expect(lines.find((line) => line.startsWith('login:'))).toContain('return: { param: from }');
    expect(lines.join('\n')).toContain('- { otherwise: /berths }');
  });
});

test('a number that each load of the shell has for itself makes no page of its own', () => {
  const shell = (at: number, path: string, nonce: string) =>
    exchange(at, `GET ${path}`, { body: `<script nonce="${nonce}" src="/app.js"></script>` });
  const of = (second: string) =>
    drafted({
      recordings: [
        recording(null, [shell(0, '/tides', 'q7x81kfp0aa93mzt55dd'), shell(5, '/berths', second)]),
      ],
    }).text;
  expect(of('z1x81kfp0aa93mzt5501')).toContain('guard: browser');
  expect(of('z1x81')).not.toContain('guard: browser');
});

import { Asked, short } from '../../support/asked';

describe('signing up', () => {
  test.each([
    'guest',
    'everyone',
    'signed-in',
    '',
    'a\u0000b',
    'a\nb',
    ' ann',
    '\u202eann',
    'a'.repeat(65),
    'ann (deleted)',
  ])('under %j makes no account, and tells as little as for a name that is taken', (account) => {
    const asked = new Asked({
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] } }',
      landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
      more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk] }',
    });
    const { state } = asked;
    const form = new Map([
      ['account', account],
      ['password', 'x'],
    ]);
    expect(short(asked.ask('POST /join', { form }))).toBe('303 /join served');
    expect(asked.state).toBe(state);
  });
});

describe('logging in', () => {
  const fields = (form: Record<string, string>) => ({ form: new Map(Object.entries(form)) });

  test.each([
    ['right', { account: 'ann', password: 'a-1' }, '303 /desk served'],
    ['a wrong password', { account: 'ann', password: 'x' }, '303 /in?no wrong-password'],
    ['an unknown name is no different', { account: 'zoe', password: 'x' }, '303 /in?no wrong-password'],
    ['nothing filled in', {}, '303 /in?no wrong-password'],
    [
      'a refused attempt keeps the way back',
      { account: 'ann', password: 'x', back: '/hall' },
      '303 /in?no&back=/hall wrong-password',
    ],
    ['suspended, once the password is right', { account: 'sue', password: 's' }, '303 /in?no suspended'],
    ['suspended, but the password is wrong', { account: 'sue', password: 'x' }, '303 /in?no wrong-password'],
    ['unconfirmed', { account: 'uli', password: 'u' }, '303 /in?no unconfirmed'],
    ['back to an allowed page', { account: 'ann', password: 'a-1', back: '/hall?y#z' }, '303 /hall?y served'],
    [
      'back to a page of another role',
      { account: 'ann', password: 'a-1', back: '/safe' },
      '303 /desk served',
    ],
    ['back to no page', { account: 'ann', password: 'a-1', back: '/nowhere' }, '303 /desk served'],
    ['back to the login page itself', { account: 'ann', password: 'a-1', back: '/in' }, '303 /desk served'],
    [
      'back to another site',
      { account: 'ann', password: 'a-1', back: '//evil.example' },
      '303 /desk unsafe-return',
    ],
  ])('%s', (_what, form, expected) => {
    const asked = new Asked({
      accounts:
        'accounts: { ann: { password: a-1, roles: [clerk] }, sue: { password: s, state: suspended }, uli: { password: u, state: unconfirmed } }',
      login: 'login: { page: /in, submit: POST /in, wrong: /in?no, return: {} }',
    });
    expect(short(asked.ask('POST /in', fields(form)))).toBe(expected);
  });

  test.each([
    ['same-origin', 'https://app.example/hall', '/hall'],
    ['same-origin', '/%2e%2e//evil.example', '/evil.example'],
    ['same-origin', 'javascript:alert(1)', null],
    ['same-origin', 'https://app.example@evil.example/', null],
    ['same-origin', '/\t/evil.example', null],
    ['same-origin', 'https://app.example:444/', null],
    ['{ listed: [/hall, /desk/**] }', '/desk/3', '/desk/3'],
    ['{ listed: [/hall, /desk/**] }', '/safe', null],
    ['leading-slash', '//evil.example', '//evil.example'],
    ['leading-slash', 'https://evil.example', null],
    ['anything', 'https://evil.example', 'https://evil.example'],
    ['never', '/hall', null],
  ])('accept: %s of %s gives %s', (accept, asked, accepted) => {
    const app = new Asked({
      login: `login: { page: /in, submit: POST /in, return: { accept: ${accept}, only-if-allowed: false } }`,
    });
    const { response } = app.ask('POST /in', fields({ account: 'ann', password: 'a-1', back: asked }));
    expect(response.location).toBe(accepted ?? '/desk');
  });

  test('a session id that was there before is no good after it (CWE-384)', () => {
    const asked = new Asked({
      pages: 'pages: { /: {}, /in: { for: guests, write: everyone }, /desk: {}, /safe: {} }',
    });
    const first = asked.logIn('ann', 'a-1');
    const { response } = asked.ask('POST /in', {
      cookie: first,
      ...fields({ account: 'bo', password: 'b-2' }),
    });
    expect(short(asked.ask('GET /desk', { cookie: first }))).toContain('signed-out');
    expect(
      asked.ask('GET /desk', { cookie: response.setCookie[0]?.split(';')[0] ?? '' }).explanation.seenAs,
    ).toBe('bo');
  });

  test('the cookie has the attributes that the policy says', () => {
    const asked = new Asked({
      session: 'session: { cookie: { name: sid, same-site: strict, http-only: false, life: 8h } }',
    });
    const { response } = asked.ask('POST /in', fields({ account: 'ann', password: 'a-1' }));
    expect(response.setCookie).toEqual(['sid=session-1; Path=/; Max-Age=28800; Secure; SameSite=Strict']);
  });

  test('a login that lands nowhere says so', () => {
    const asked = new Asked({ landing: 'landing: [{ role: chief, to: /safe }]' });
    expect(short(asked.ask('POST /in', fields({ account: 'ann', password: 'a-1' })))).toBe(
      '404 - unknown-page',
    );
  });
});

test('an unknown name pauses after as many tries as a known one, so that names do not leak', () => {
  const answers = ['ann', 'zoe'].map((account) => {
    const asked = new Asked({
      login: 'login: { page: /in, submit: POST /in, attempts: { most: 2, within: 1m, pause: 1m } }',
    });
    const form = new Map([['account', account]]).set('password', 'x');
    return [1, 2, 3, 62].map((second) => short(asked.ask('POST /in', { form }, second)));
  });
  expect(answers[0]).toEqual(answers[1]);
  expect(answers[0]?.map((each) => each.split(' ').at(-1))).toEqual([
    'wrong-password',
    'wrong-password',
    'locked-out',
    'wrong-password',
  ]);
});

test.each<
  [what: string, page: string, accept: 'application/json' | 'text/html', status: number, to: string | null]
>([
  ['an api endpoint tells script where to go on', 'kind: api, for: guests', 'application/json', 200, null],
  ['and sends a form on', 'kind: api, for: guests', 'text/html', 303, '/desk'],
  ['an ordinary one sends anybody on', 'for: guests', 'application/json', 303, '/desk'],
])('%s', (_what, page, accept, status, location) => {
  const asked = new Asked({
    login: 'login: { page: /in, submit: POST /api/in }',
    pages: `pages: { /: { for: everyone }, /in: { for: guests }, /api/in: { ${page} }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }`,
  });
  const form = new Map([
    ['account', 'ann'],
    ['password', 'a-1'],
  ]);
  const { response } = asked.ask('POST /api/in', { form, accept });
  expect([response.status, response.location]).toEqual([status, location]);
  expect(response.body).toEqual(status === 200 ? { kind: 'next', next: '/desk' } : expect.anything());
});

test('a name that is locked out is told by what locks it', () => {
  const asked = new Asked();
  const attempt = () =>
    asked.ask('POST /in', {
      form: new Map([
        ['account', 'ann'],
        ['password', 'x'],
      ]),
    });
  for (let tries = 0; tries < 5; tries++) attempt();
  const { reason, decidedBy } = attempt().explanation;
  expect([reason, decidedBy]).toEqual(['locked-out', ['login', 'attempts']]);
});

test('where a logout lands may hang on the page that was left, for whoever tells of one', () => {
  const asked = new Asked({
    logout: 'logout: { submit: POST /out, lands: [{ at: /hall, to: /in }, { otherwise: / }] }',
  });
  const lands = (referer: string) =>
    asked.ask('POST /out', { cookie: asked.logIn('ann', 'a-1'), referer }).response.location;
  expect([lands('/hall'), lands('/desk'), lands('')]).toEqual(['/in', '/', '/']);
});

test('a page answers OPTIONS whatever it answers else', () => {
  const asked = new Asked({
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: everyone, methods: [GET] }, /safe: { for: [chief] }, /hall: { for: signed-in } }',
  });
  expect(asked.ask('OPTIONS /desk').response.status).toBe(204);
  expect(asked.ask('HEAD /desk').response.status).toBe(200);
  expect(asked.ask('PUT /desk').response.status).toBe(405);
});

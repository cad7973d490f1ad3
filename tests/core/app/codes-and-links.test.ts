import { Asked, short } from '../../support/asked';

const fields = (form: Record<string, string>) => new Map(Object.entries(form));

const WITH_CODE = {
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk], second-factor: true }, bo: { password: b-2, roles: [chief] } }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: everyone }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /vault: { for: { any: clerk, second-factor: true } } }',
};
const rules = (asked: string, more = '') =>
  `second-factor: { page: /code, submit: POST /code, life: 5m, tries: 3, asked: ${asked}${more} }`;

describe('a one-time code after the password', () => {
  const start = (more = '') => {
    const asked = new Asked({ ...WITH_CODE, more: rules('at-login', more) });
    return { asked, cookie: asked.logIn('ann', 'a-1') };
  };
  const give = (
    { asked, cookie }: ReturnType<typeof start>,
    code: string,
    seconds = 0,
    more: Record<string, string> = {},
  ) => asked.ask('POST /code', { cookie, form: fields({ code, ...more }) }, seconds);

  test('is asked for, and what is half signed in reaches no more than a guest', () => {
    const { asked, cookie } = start();
    const form = fields({ account: 'ann', password: 'a-1' });
    expect(short(asked.ask('POST /in', { form }))).toBe('303 /code code-needed');
    for (const page of ['/desk', '/vault']) {
      expect(short(asked.ask(`GET ${page}`, { cookie }))).toBe(`302 /code?back=${page} code-needed`);
    }
  });

  test.each<[what: string, code: string, seconds: number, more: Record<string, string>, said: string]>([
    ['right', 'right', 299, {}, '303 /desk served'],
    ['right, with a page that was asked for', 'right', 0, { back: '/vault' }, '303 /vault served'],
    ['wrong', 'wrong', 0, {}, '303 /code code-wrong'],
    [
      'wrong, with a page that was asked for',
      'wrong',
      0,
      { back: '/vault' },
      '303 /code?back=/vault code-wrong',
    ],
    ['too late', 'right', 300, {}, '303 /in code-expired'],
  ])('%s', (_what, code, seconds, more, said) => {
    expect(short(give(start(), code, seconds, more))).toBe(said);
  });

  test('that was right signs in under a new session id, and is good once', () => {
    const begun = start();
    const { response } = give(begun, 'right');
    const [cookie = ''] = response.setCookie.map((each) => each.split(';', 1)[0] ?? '');
    expect(cookie).not.toBe(begun.cookie);
    expect(short(begun.asked.ask('GET /vault', { cookie }))).toBe('200 - served');
    expect(short(begun.asked.ask('GET /vault', { cookie: begun.cookie }))).toMatch(/^302 \/in/);
    expect(give(begun, 'right').explanation.reason).not.toBe('served');
  });

  test('got wrong as often as may be begins anew at the login', () => {
    const begun = start();
    expect([1, 2, 3].map(() => short(give(begun, 'wrong')))).toEqual([
      '303 /code code-wrong',
      '303 /code code-wrong',
      '303 /in code-wrong',
    ]);
    expect(give(begun, 'right').explanation.reason).not.toBe('served');
  });

  test('of an account that is gone meanwhile, or asks for none any more, lets nobody in', () => {
    const gone = start();
    const accounts = new Map(gone.asked.state.accounts);
    accounts.delete('ann');
    gone.asked.state = { ...gone.asked.state, accounts };
    expect(short(give(gone, 'right'))).toBe('303 /in account-gone');
    const none = start();
    const ann = none.asked.state.accounts.get('ann');
    if (ann === undefined) throw new Error('nobody');
    const changed = new Map(none.asked.state.accounts).set('ann', { ...ann, secondFactor: false });
    none.asked.state = { ...none.asked.state, accounts: changed };
    expect(give(none, 'right').explanation.reason).toBe('code-wrong');
  });

  test('without a login before it there is none', () => {
    const asked = new Asked({ ...WITH_CODE, more: rules('at-login') });
    expect(short(asked.ask('POST /code', { form: fields({ code: 'right' }) }))).toBe('303 /in guest');
  });

  test('that is wrong can be told on the form itself', () => {
    const begun = start(', wrong: { shown: true, status: 422 }');
    expect(short(give(begun, 'wrong'))).toBe('422 - code-wrong');
    const byScript = begun.asked.ask('POST /code', {
      cookie: begun.cookie,
      form: fields({ code: 'wrong' }),
      accept: 'application/json',
    });
    expect([byScript.response.status, byScript.response.body.kind]).toEqual([422, 'problem']);
  });
});

describe('a one-time code where a page asks for it', () => {
  const start = () => {
    const asked = new Asked({ ...WITH_CODE, more: rules('at-page') });
    return { asked, cookie: asked.logIn('ann', 'a-1') };
  };

  test('is sent there, and not again at its own page', () => {
    const { asked, cookie } = start();
    expect(short(asked.ask('GET /desk', { cookie }))).toBe('200 - served');
    expect(short(asked.ask('GET /vault', { cookie }, 10))).toMatch(/^302 \/code\S* code-needed$/);
    const sentAt = () => asked.state.sessions.at(-1)?.code?.sentAt;
    expect(sentAt()).toBe(10);
    // Its own page sends none to whoever has one.
    asked.ask('GET /code', { cookie }, 20);
    expect(sentAt()).toBe(10);
    expect(
      short(asked.ask('POST /code', { cookie, form: fields({ code: 'right', back: '/vault' }) }, 40)),
    ).toBe('303 /vault served');
  });

  test('is sent at its page to whoever could owe one, and to nobody else', () => {
    const { asked, cookie } = start();
    asked.ask('GET /code', { cookie }, 5);
    expect(asked.state.sessions.at(-1)?.code?.sentAt).toBe(5);
    const bo = asked.logIn('bo', 'b-2');
    asked.ask('GET /code', { cookie: bo }, 6);
    expect(asked.state.sessions.at(-1)?.code).toBeNull();
    const { state } = asked;
    asked.ask('GET /code', {}, 7);
    expect(asked.state.sessions).toEqual(state.sessions);
  });

  test('that comes too late is followed by another at the same place', () => {
    const { asked, cookie } = start();
    asked.ask('GET /vault', { cookie });
    const late = asked.ask('POST /code', { cookie, form: fields({ code: 'right' }) }, 300);
    expect(short(late)).toBe('303 /code code-expired');
    expect(late.explanation.decidedBy).toEqual(['second-factor', 'life']);
    expect(asked.state.sessions.at(-1)?.code?.sentAt).toBe(300);
    expect(asked.ask('POST /code', { cookie, form: fields({ code: 'right' }) }, 301).explanation.reason).toBe(
      'served',
    );
  });
});

describe('a link that confirms an account', () => {
  const start = () => {
    const asked = new Asked({
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] } }',
      landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
      more: [
        'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm, lands: /in }',
        'confirm: { path: /confirm/:token, life: 24h }',
      ].join('\n'),
    });
    asked.ask('POST /join', { form: fields({ account: 'zoe', password: 'z' }) });
    return asked;
  };
  const change = (asked: Asked, state: 'suspended' | null) => {
    const zoe = asked.state.accounts.get('zoe');
    const accounts = new Map(asked.state.accounts);
    if (state === null || zoe === undefined) accounts.delete('zoe');
    else accounts.set('zoe', { ...zoe, state });
    asked.state = { ...asked.state, accounts };
  };

  test('is good once, and for its life', () => {
    const asked = start();
    expect(asked.logIn('zoe', 'z')).toBe('');
    expect(short(asked.ask('GET /confirm/link-1', {}, 86_399))).toBe('302 /in served');
    expect(asked.state.accounts.get('zoe')?.state).toBe('active');
    expect(asked.logIn('zoe', 'z', 86_399)).toMatch(/^session=/);
    expect(short(asked.ask('GET /confirm/link-1'))).toBe('404 - unknown-page');
    const late = start().ask('GET /confirm/link-1', {}, 86_400);
    expect(short(late)).toBe('302 /in code-expired');
    expect(late.explanation.decidedBy).toEqual(['confirm', 'life']);
  });

  test.each(['link-2', 'link-0', 'link-01', 'session-1', 'x', '__proto__'])('%s is none', (secret) => {
    const asked = start();
    expect(short(asked.ask(`GET /confirm/${secret}`))).toBe('404 - unknown-page');
    expect(asked.state.accounts.get('zoe')?.state).toBe('unconfirmed');
  });

  test('of an account that is gone is none, and one that was suspended stays so', () => {
    const gone = start();
    change(gone, null);
    expect(short(gone.ask('GET /confirm/link-1'))).toBe('404 - unknown-page');
    const suspended = start();
    change(suspended, 'suspended');
    suspended.ask('GET /confirm/link-1');
    expect(suspended.state.accounts.get('zoe')?.state).toBe('suspended');
  });
});

test.each([
  ['end-family', 'refresh-revoked'],
  ['refuse', 'served'],
])('a refresh token that was exchanged already, with reuse: %s, leaves the next %s', (reuse, next) => {
  const asked = new Asked({
    login: 'login: { page: /in, submit: POST /in, by: both }',
    more: `tokens: { access: { life: 5m }, refresh: { life: 1h, reuse: ${reuse} } }`,
  });
  asked.logIn('ann', 'a-1');
  const refresh = (token: string) =>
    asked.ask('POST /oauth/token', { form: fields({ grant_type: 'refresh_token', refresh_token: token }) });
  refresh('refresh-1');
  expect(refresh('refresh-1').explanation.reason).toBe('refresh-reused');
  expect(refresh('refresh-2').explanation.reason).toBe(next);
});

test('a logout takes only those cookies away that came along', () => {
  const asked = new Asked({
    logout: 'logout: { submit: POST /out, clears: [session, remember] }',
    more: 'remember: { life: 30d }',
  });
  const session = asked.logIn('ann', 'a-1');
  const names = (cookie: string) =>
    asked.ask('POST /out', { cookie }).response.setCookie.map((each) => each.split('=', 1)[0]);
  expect(names(session)).toEqual(['session']);
  expect(names(`${session}; remember=x`)).toEqual(['session', 'remember']);
  expect(names('')).toEqual([]);
});

test('a code is sent only where it is a code that is missing', () => {
  const asked = new Asked({ ...WITH_CODE, more: rules('at-page') });
  const cookie = asked.logIn('ann', 'a-1');
  expect(short(asked.ask('GET /safe', { cookie }))).toBe('403 - role');
  expect(asked.state.sessions.at(-1)?.code).toBeNull();
});

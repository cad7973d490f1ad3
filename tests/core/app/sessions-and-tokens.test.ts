import { Asked, short } from '../../support/asked';

describe('a session', () => {
  const limits = (renews: string) =>
    new Asked({ session: `session: { idle: 10s, absolute: 30s, renews: ${renews} }` });
  const seen = (asked: Asked, cookie: string, seconds: number) =>
    asked.ask('GET /', { cookie }, seconds).explanation.seenAs;

  test.each([
    ['each-request', [9, 18, 27, 29], 30],
    ['each-request', [9, 18], 28],
    ['past-half', [4, 9], 19],
    ['past-half', [4], 10],
    ['never', [4, 9], 10],
  ])('renews: %s, active at %p, ends at second %i', (renews, active, end) => {
    const asked = limits(renews);
    const cookie = asked.logIn('ann', 'a-1');
    for (const second of active) expect(seen(asked, cookie, second)).toBe('ann');
    const before = { ...asked.state };
    expect(seen(asked, cookie, end - 1)).toBe('ann');
    asked.state = before;
    expect(seen(asked, cookie, end)).toBeNull();
  });

  test('the reason tells the limits apart', () => {
    const asked = limits('each-request');
    const cookie = asked.logIn('ann', 'a-1');
    expect(asked.ask('GET /desk', { cookie }, 10).explanation).toMatchObject({
      reason: 'idle-expired',
      decidedBy: ['session', 'idle'],
    });
    expect(asked.ask('GET /desk', { cookie }, 30).explanation.reason).toBe('absolute-expired');
  });

  test('a refused request of somebody known counts as activity', () => {
    const asked = limits('each-request');
    const cookie = asked.logIn('ann', 'a-1');
    expect(asked.ask('GET /safe', { cookie }, 9).response.status).toBe(403);
    expect(seen(asked, cookie, 18)).toBe('ann');
  });

  test.each(['session-2', 'session-0', 'session-01', 'session-1x', 'access-1', '__proto__', ''])(
    'the id "%s" was never handed out',
    (id) => {
      const asked = new Asked();
      asked.logIn('ann', 'a-1');
      expect(asked.ask('GET /desk', { cookie: `session=${id}` }).explanation.reason).toBe('session-lost');
    },
  );

  test('a cookie with a life of its own is handed out again when the session is renewed, and only then', () => {
    const asked = new Asked({ session: 'session: { idle: 10s, renews: past-half, cookie: { life: 10s } }' });
    const cookie = asked.logIn('ann', 'a-1');
    expect(asked.ask('GET /', { cookie }, 4).response.setCookie).toHaveLength(0);
    expect(asked.ask('GET /', { cookie }, 5).response.setCookie).toHaveLength(1);
  });
});

describe('tokens', () => {
  const both = (more: string, logout = 'logout: { submit: POST /out }') =>
    new Asked({
      login: 'login: { page: /in, submit: POST /in, by: both }',
      more: `tokens: { ${more} }`,
      logout,
    });
  const refresh = (asked: Asked, token: string, seconds = 0) =>
    asked.ask(
      'POST /oauth/token',
      {
        form: new Map([
          ['grant_type', 'refresh_token'],
          ['refresh_token', token],
        ]),
      },
      seconds,
    );
  const byToken = (asked: Asked, token: string, seconds = 0) =>
    asked.ask('GET /desk', { authorization: `Bearer ${token}` }, seconds).explanation;

  test('a login by script is answered with tokens and the landing', () => {
    const asked = both('access: { life: 5m }, refresh: { life: 1h }');
    const { response } = asked.ask('POST /in', {
      form: new Map([
        ['account', 'ann'],
        ['password', 'a-1'],
      ]),
      accept: 'application/json',
    });
    expect(response.body).toEqual({
      kind: 'tokens',
      accessToken: 'access-1',
      expiresIn: 300,
      refreshToken: 'refresh-1',
      claims: { account: 'ann', roles: new Set(['clerk']), secondFactor: false },
      next: '/desk',
    });
  });

  test('an access token counts up to its life and leeway, not a second longer (RFC 7519 §4.1.4)', () => {
    const asked = both('access: { life: 5m, leeway: 5s }, refresh: { life: 1h }');
    asked.logIn('ann', 'a-1');
    expect(byToken(asked, 'access-1', 304)).toMatchObject({ seenAs: 'ann', reason: 'served' });
    expect(byToken(asked, 'access-1', 305)).toMatchObject({ seenAs: null, reason: 'access-expired' });
  });

  test('the session cookie is asked before the token', () => {
    const asked = both('access: { life: 5m }');
    const cookie = asked.logIn('ann', 'a-1');
    asked.logIn('bo', 'b-2');
    expect(asked.ask('GET /desk', { cookie, authorization: 'Bearer access-2' }).explanation.seenAs).toBe(
      'ann',
    );
  });

  test('a rotating refresh token counts from its own issue, another from the login', () => {
    const rotating = both('access: { life: 5m }, refresh: { life: 1h, rotates: true }');
    rotating.logIn('ann', 'a-1');
    expect(refresh(rotating, 'refresh-1', 3599).response.status).toBe(200);
    expect(refresh(rotating, 'refresh-2', 7198).response.status).toBe(200);
    const fixed = both('access: { life: 5m }, refresh: { life: 1h, rotates: false }');
    fixed.logIn('ann', 'a-1');
    expect(refresh(fixed, 'refresh-1', 3599).response.body).toMatchObject({
      accessToken: 'access-2',
      refreshToken: null,
    });
    expect(refresh(fixed, 'refresh-1', 3600).explanation.reason).toBe('refresh-expired');
  });

  test('a rotated token shown again ends all tokens of its login (RFC 9700 §4.14.2)', () => {
    const asked = both('access: { life: 5m }, refresh: { life: 1h }');
    asked.logIn('ann', 'a-1');
    refresh(asked, 'refresh-1');
    expect(refresh(asked, 'refresh-1').explanation.reason).toBe('refresh-reused');
    expect(refresh(asked, 'refresh-2').explanation.reason).toBe('refresh-revoked');
  });

  test.each([
    ['no grant type', [], 'invalid_request'],
    ['no token', [['grant_type', 'refresh_token']], 'invalid_request'],
    ['another grant', [['grant_type', 'password']], 'unsupported_grant_type'],
    [
      'a token never handed out',
      [
        ['grant_type', 'refresh_token'],
        ['refresh_token', 'refresh-7'],
      ],
      'invalid_grant',
    ],
  ] as [string, [string, string][], string][])('RFC 6749 §5.2: %s is a 400', (_what, form, error) => {
    const { response } = both('access: { life: 5m }, refresh: { life: 1h }').ask('POST /oauth/token', {
      form: new Map(form),
    });
    expect(response).toMatchObject({ status: 400, body: { kind: 'token-error', error } });
  });

  test.each([
    ['logout: { submit: POST /out }', 'guest signed-out', 'served', 'refresh-revoked'],
    [
      'logout: { submit: POST /out, ends: [session, refresh, access] }',
      'guest signed-out',
      'signed-out',
      'refresh-revoked',
    ],
    ['logout: { submit: POST /out, ends: [] }', 'ann served', 'served', 'served'],
  ])('%s leaves good what it does not end', (logout, session, access, refreshed) => {
    const asked = both('access: { life: 5m }, refresh: { life: 1h }', logout);
    const cookie = asked.logIn('ann', 'a-1');
    const { response } = asked.ask('POST /out', { cookie });
    expect([response.status, response.setCookie]).toEqual([
      303,
      ['session=; Path=/; Max-Age=0; Secure; HttpOnly; SameSite=Lax'],
    ]);
    const { seenAs, reason } = asked.ask('GET /desk', { cookie }).explanation;
    expect(`${seenAs ?? 'guest'} ${reason}`).toBe(session);
    expect(byToken(asked, 'access-1').reason).toBe(access);
    expect(refresh(asked, 'refresh-1').explanation.reason).toBe(refreshed);
  });

  test('logging out twice is no error', () => {
    const asked = both('access: { life: 5m }');
    const cookie = asked.logIn('ann', 'a-1');
    expect([1, 2].map(() => short(asked.ask('POST /out', { cookie })))).toEqual([
      '303 / served',
      '303 / served',
    ]);
  });
});

describe('revoking (RFC 7009)', () => {
  const app = (ends = '[access, refresh]') =>
    new Asked({
      login: 'login: { page: /in, submit: POST /in, by: tokens }',
      logout: `logout: { submit: POST /out, ends: ${ends} }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h }, revoke: POST /revoke }',
    });
  const form = (fields: Record<string, string>) => ({
    form: new Map(Object.entries(fields)),
    accept: 'application/json' as const,
  });
  const refreshed = (asked: Asked) =>
    asked.ask('POST /oauth/token', form({ grant_type: 'refresh_token', refresh_token: 'refresh-1' })).response
      .status;

  test.each([
    ['§2.1: a refresh token ends its login', 'refresh-1', 400],
    ['§2.1: so does an access token', 'access-1', 400],
    ['§2.2: one that is unknown is no error and ends nothing', 'refresh-9', 200],
  ])('%s', (_law, token, status) => {
    const asked = app();
    asked.logIn('ann', 'a-1');
    expect(asked.ask('POST /revoke', form({ token })).response.status).toBe(200);
    expect(refreshed(asked)).toBe(status);
  });

  test('§2.2.1: an access token that is never called back is not revoked, and nothing else with it', () => {
    const asked = app('[refresh]');
    asked.logIn('ann', 'a-1');
    expect(asked.ask('POST /revoke', form({ token: 'access-1' })).response).toMatchObject({
      status: 400,
      body: { error: 'unsupported_token_type' },
    });
    expect(refreshed(asked)).toBe(200);
  });

  test('§2.1: without a token the request is invalid', () => {
    expect(app().ask('POST /revoke', form({})).response).toMatchObject({
      status: 400,
      body: { error: 'invalid_request' },
    });
  });
});

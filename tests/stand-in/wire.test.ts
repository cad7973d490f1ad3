import { createRemoteJWKSet, jwtVerify } from 'jose';
import { Asked, cookies, FORM, type Headers } from '../support/asked-stand-in';
import type { WireResponse } from '../support/wire-browser';

let asked: Asked;
afterEach(async () => {
  await asked.standIn.stop();
});

/** What a response carries, for a test that knows its form. */
function json(answer: WireResponse): TokenJson {
  return JSON.parse(answer.body) as TokenJson;
}

interface TokenJson {
  readonly access_token: string;
  readonly refresh_token: string;
  readonly token_type: string;
  readonly expires_in: number;
  readonly error: string;
}

describe('what goes over the wire', () => {
  test('a login answers with a redirect and a cookie that cannot be guessed', async () => {
    asked = await Asked.start();
    const answer = await asked.post('/in', { account: 'ann', password: 'a-1' }, { accept: 'text/html' });
    expect([answer.status, answer.headers['location']]).toEqual([303, '/desk']);
    expect(cookies(answer)).toMatch(/^session=session-1\.[\w-]{22}$/);
    expect((await asked.ask('GET', '/desk', { cookie: cookies(answer) })).status).toBe(200);
    for (const made of ['session=session-1', `session=session-1.${'A'.repeat(22)}`, `${cookies(answer)}x`]) {
      expect((await asked.ask('GET', '/desk', { cookie: made })).headers['location']).toBe('/in?back=/desk');
    }
  });

  test('picking a made-up account stands for its name and password', async () => {
    asked = await Asked.start();
    const answer = await asked.post('/in', { as: 'bo' });
    expect([answer.status, answer.headers['location']]).toEqual([303, '/safe']);
    // At the login only.
    expect((await asked.post('/desk', { as: 'bo' })).headers['location']).toBe('/in');
  });

  test('an absolute return address means the stand-in itself, and no other site', async () => {
    asked = await Asked.start();
    const back = (address: string) => asked.post('/in', { account: 'bo', password: 'b-2', back: address });
    expect((await back(`${asked.standIn.address}/desk`)).headers['location']).toBe('/desk');
    expect((await back('http://evil.example/desk')).headers['location']).toBe('/safe');
  });

  test.each([
    [
      'RFC 9110 §15.5.2: a 401 says how to authenticate',
      'GET',
      '/api/a',
      401,
      { 'www-authenticate': 'Bearer' },
    ],
    [
      'RFC 9457 §3: an api refuses with a problem',
      'GET',
      '/api/a',
      401,
      { 'content-type': 'application/problem+json; charset=utf-8' },
    ],
    ['RFC 9110 §15.5.6: a 405 says what is allowed', 'GET', '/oauth/token', 405, { allow: 'POST' }],
    [
      'RFC 9110 §9.3.7: OPTIONS tells the methods',
      'OPTIONS',
      '/',
      204,
      { allow: 'GET, HEAD, OPTIONS, POST, PUT, PATCH, DELETE' },
    ],
    [
      'RFC 9110 §15.4.3: a guest who reads is sent to the login',
      'GET',
      '/desk',
      302,
      { location: '/in?back=/desk' },
    ],
    ['RFC 9110 §15.4.4: one who writes by another method', 'POST', '/desk', 303, { location: '/in' }],
    [
      'RFC 9111 §5.2.2.5: what depends on who asks is not stored',
      'GET',
      '/desk',
      302,
      { 'cache-control': 'no-store' },
    ],
    ['RFC 9110 §15.6.2: an unknown method', 'PROPFIND', '/', 501, {}],
  ])('%s', async (_law, method, target, status, headers) => {
    asked = await Asked.withTokens();
    const answer = await asked.ask(method, target);
    expect(answer.status).toBe(status);
    expect(answer.headers).toMatchObject(headers);
  });

  test('RFC 9110 §9.3.2: HEAD is answered like GET without the content', async () => {
    asked = await Asked.start();
    const [head, get] = [await asked.ask('HEAD', '/'), await asked.ask('GET', '/')];
    expect([head.status, head.body]).toEqual([get.status, '']);
  });
});

describe('tokens', () => {
  test('access tokens are signed, and the key set verifies them (RFC 7517 §5, RFC 9068 §2.2)', async () => {
    asked = await Asked.withTokens();
    const { access_token: token, token_type: type, expires_in: life } = json(await asked.logIn());
    expect([type, life]).toEqual(['Bearer', 300]);
    const keys = createRemoteJWKSet(new URL('/.well-known/jwks.json', asked.standIn.address));
    const { payload } = await jwtVerify(token, keys, {
      issuer: asked.standIn.address,
      audience: asked.standIn.address,
      typ: 'at+jwt',
    });
    expect([payload.sub, payload['roles'], (payload.exp ?? 0) - (payload.iat ?? 0)]).toEqual([
      'ann',
      ['clerk'],
      300,
    ]);
    const call = (authorization: string) => asked.ask('GET', '/api/a', { authorization });
    expect((await call(`Bearer ${token}`)).status).toBe(200);
    // RFC 9110 §11.1: the scheme's name is told in any case.
    expect((await call(`bearer ${token}`)).status).toBe(200);
    const [head = '', , mark = ''] = token.split('.');
    const forged = Buffer.from(JSON.stringify({ ...payload, jti: 'access-2' })).toString('base64url');
    for (const bad of ['access-1', `${head}.${forged}.${mark}`, token.slice(0, -3), 'x.y.z']) {
      const refused = await call(`Bearer ${bad}`);
      // RFC 6750 §3.1.
      expect([refused.status, refused.headers['www-authenticate']]).toEqual([
        401,
        'Bearer error="invalid_token"',
      ]);
    }
  });

  test('the token endpoint changes a refresh token for new ones, and refuses in the words of RFC 6749 §5.2', async () => {
    asked = await Asked.withTokens();
    const first = json(await asked.logIn());
    const refresh = (fields: Headers) => asked.post('/oauth/token', fields);
    const answer = await refresh({ grant_type: 'refresh_token', refresh_token: first.refresh_token });
    // RFC 6749 §5.1.
    expect([answer.status, answer.headers['cache-control']]).toEqual([200, 'no-store']);
    expect(json(answer).refresh_token).not.toBe(first.refresh_token);
    const error = async (fields: Headers) => json(await refresh(fields)).error;
    expect(await error({ grant_type: 'refresh_token', refresh_token: first.refresh_token })).toBe(
      'invalid_grant',
    );
    expect(await error({ grant_type: 'refresh_token', refresh_token: 'refresh-1' })).toBe('invalid_grant');
    expect(await error({ grant_type: 'password' })).toBe('unsupported_grant_type');
    expect(await error({ refresh_token: 'x' })).toBe('invalid_request');
    const known = json(answer).refresh_token;
    // §6: no scope was granted; §3.2: nothing is asked for twice.
    expect(await error({ grant_type: 'refresh_token', refresh_token: known, scope: 'all' })).toBe(
      'invalid_scope',
    );
    const twice = `grant_type=refresh_token&refresh_token=x&refresh_token=${known}`;
    expect(json(await asked.ask('POST', '/oauth/token', FORM, twice)).error).toBe('invalid_request');
  });

  test('a token that does not open what is asked for is told so by 403 (RFC 6750 §3)', async () => {
    asked = await Asked.start({
      login:
        'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 5, within: 5m, pause: 5m }, by: tokens }',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /api/b: { for: chief, kind: api } }',
      landing: 'landing: [{ otherwise: / }]',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
    });
    const { access_token: token } = json(await asked.logIn());
    const { status, headers } = await asked.ask('GET', '/api/b', {
      authorization: `Bearer ${token}`,
    });
    expect([status, headers['www-authenticate']]).toEqual([403, 'Bearer error="insufficient_scope"']);
  });

  test('an access token that cannot be called back is of a type that is not revoked (RFC 7009 §2.2.1)', async () => {
    asked = await Asked.withTokens();
    const { access_token: token } = json(await asked.logIn());
    const answer = await asked.post('/oauth/revoke', { token: token });
    expect([answer.status, json(answer).error]).toEqual([400, 'unsupported_token_type']);
  });

  test.each(['refresh_token', 'access_token'] as const)(
    'revoking a %s ends its family (RFC 7009 §2.1)',
    async (kind) => {
      asked = await Asked.withTokens({
        logout: 'logout: { submit: POST /out, ends: [session, access, refresh] }',
      });
      const tokens = json(await asked.logIn());
      expect((await asked.post('/oauth/revoke', { token: tokens[kind] })).status).toBe(200);
      const after = await asked.post('/oauth/token', {
        grant_type: 'refresh_token',
        refresh_token: tokens.refresh_token,
      });
      expect(json(after).error).toBe('invalid_grant');
      const bearer = { authorization: `Bearer ${tokens.access_token}` };
      expect((await asked.ask('GET', '/api/a', bearer)).status).toBe(401);
      // §2.2: a token that is not known is no error.
      expect((await asked.post('/oauth/revoke', { token: 'unknown' })).status).toBe(200);
    },
  );

  test('without script a login for tokens goes on with the session it also gives', async () => {
    asked = await Asked.withTokens();
    const answer = await asked.post('/in', { account: 'ann', password: 'a-1' }, { accept: 'text/html' });
    expect([answer.status, answer.headers['location'], answer.body]).toEqual([303, '/desk', '']);
  });
});

describe('the login by what client code sends', () => {
  const LOGIN =
    'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 2, within: 5m, pause: 5m }, fields: { account: email, password: pass } }';
  const send = (body: string, type: string) => asked.ask('POST', '/in', { 'content-type': type }, body);

  test.each([
    ['application/json', '{"email":"ann","pass":"a-1"}', 303],
    ['application/x-www-form-urlencoded', 'email=ann&pass=a-1', 303],
    ['application/json', '{"account":"ann","password":"a-1"}', 400],
    ['application/x-www-form-urlencoded', 'user=ann&pass=a-1', 400],
    ['application/json', '{"email":', 400],
    ['text/plain', 'email=ann', 415],
  ])('%s %s is answered with %i', async (type, body, status) => {
    asked = await Asked.start({ login: LOGIN });
    const answer = await send(body, type);
    expect(answer.status).toBe(status);
    if (status >= 400) expect(answer.body).toContain('the fields email and pass');
    else if (body.includes('email')) expect(answer.headers['location']).toBe('/desk');
  });

  test('RFC 9110 §10.2.3: a lockout says when to try again', async () => {
    asked = await Asked.start({ login: LOGIN });
    const type = 'application/x-www-form-urlencoded';
    await send('email=ann&pass=x', type);
    await send('email=ann&pass=x', type);
    const answer = await send('email=ann&pass=a-1', type);
    expect(Number(answer.headers['retry-after'])).toBeGreaterThan(290);
    expect((await send('email=bo&pass=b-2', type)).headers['retry-after']).toBeUndefined();
  });
});

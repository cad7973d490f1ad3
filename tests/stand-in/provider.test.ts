import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { playSteps, policyText } from '../support/policies';
import { Asked, cookies, FORM } from '../support/asked-stand-in';
import { sendOver } from '../support/wire-browser';

const CLIENT = join(__dirname, '..', 'support', 'relying-party.mjs');
const provider = (rest = '') =>
  `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example, bo: b@id.example }${rest} } }`;

/** What a client prints that runs in a process of its own. */
async function printed<Told>(...args: string[]): Promise<Told> {
  const { stdout } = await promisify(execFile)(process.execPath, [CLIENT, ...args]);
  return JSON.parse(stdout) as Told;
}

describe('the provider beside the app', () => {
  let asked: Asked;
  let issuer: string;
  beforeAll(async () => {
    asked = await Asked.start({ more: provider() });
    issuer = asked.standIn.site.providers.get('port-id') ?? '';
  });
  afterAll(async () => {
    await asked.standIn.stop();
  });

  test('is one to a client of a well-known package', async () => {
    const told = await printed<{ claims: object; userInfo: object }>(issuer);
    expect(told).toMatchObject({
      claims: {
        iss: issuer,
        aud: 'probe',
        email: 'a@id.example',
        email_verified: true,
        isVerified: true,
        hasNonce: true,
      },
      userInfo: { email: 'a@id.example' },
      forms: { first: 1, known: 0, afterLogout: 1 },
      isBackAfterLogout: true,
      another: true,
      refused: {
        usedTwice: 'invalid_grant',
        otherVerifier: 'invalid_grant',
        otherAddress: 400,
        noToken: expect.stringContaining('WWW-Authenticate') as string,
      },
    });
  });

  test.each([
    ['GET', '/authorize', 400],
    ['GET', '/authorize?client_id=a&response_type=code&redirect_uri=https://evil.example/', 400],
    ['GET', '/authorize?client_id=a&response_type=code&redirect_uri=javascript:alert(1)', 400],
    ['GET', '/end-session?post_logout_redirect_uri=https://evil.example/', 400],
    ['POST', '/token', 400],
    ['GET', '/userinfo', 401],
    ['GET', '/nowhere', 404],
  ])('%s %s is answered with %i', async (method, target, status) => {
    const answer = await sendOver(issuer, method, target, { host: new URL(issuer).host });
    expect([answer.status, answer.headers['location']]).toEqual([status, undefined]);
  });

  test.each([
    ['response_type=token', 'unsupported_response_type'],
    ['response_type=code&response_type=code', 'invalid_request'],
    ['state=1', 'invalid_request'],
    ['response_type=code&code_challenge=x&code_challenge_method=plain', 'invalid_request'],
    ['response_type=code&prompt=none', 'login_required'],
    ['response_type=code&prompt=none%20login', 'invalid_request'],
  ])('%s is told to the client as %s (RFC 6749 §4.1.2.1)', async (asked, error) => {
    const target = `/authorize?client_id=a&redirect_uri=http://127.0.0.1/back&${asked}${asked === 'state=1' ? '' : '&state=s'}`;
    const { status, headers } = await sendOver(issuer, 'GET', target, { host: new URL(issuer).host });
    const state = asked === 'state=1' ? '1' : 's';
    expect([status, headers['location']]).toEqual([
      302,
      `http://127.0.0.1/back?error=${error}&state=${state}`,
    ]);
  });

  const BACK = 'http://127.0.0.1/back';
  const ask = (target: string) => sendOver(issuer, 'GET', target, { host: new URL(issuer).host });
  const send = (target: string, fields: Record<string, string>, more: Record<string, string> = {}) => {
    const headers = { host: new URL(issuer).host, ...FORM, ...more };
    return sendOver(issuer, 'POST', target, headers, new URLSearchParams(fields).toString());
  };
  const given = async (redirect_uri: string) => {
    const fields = { client_id: 'probe', redirect_uri, response_type: 'code', person: 'ann' };
    const { status, headers } = await send('/login', fields);
    return { status, location: String(headers['location']) };
  };
  const taken = (code: string, redirect_uri = BACK, more: Record<string, string> = {}) =>
    send('/token', { grant_type: 'authorization_code', client_id: 'probe', code, redirect_uri }, more);
  const codeIn = (location: string) => new URL(location).searchParams.get('code') ?? '';

  test.each([
    ['http://127.0.0.1/b\u00fcro?from=\u6e2f', 'http://127.0.0.1/b%C3%BCro?from=%E6%B8%AF&code='],
    ['http://127.0.0.1/a\r\nset-cookie: x=1', 'http://127.0.0.1/aset-cookie:%20x=1?code='],
    ['http://[::1]:3000', 'http://[::1]:3000/?code='],
    ['http://127.0.0.1/\ud800', 'http://127.0.0.1/%EF%BF%BD?code='],
  ])('sends back to %j in ASCII', async (uri, location) => {
    const answer = await given(uri);
    expect([answer.status, answer.location.startsWith(location)]).toEqual([303, true]);
    expect((await taken(codeIn(answer.location), uri.toWellFormed())).status).toBe(200);
  });

  test.each([
    'http://',
    'http://127.0.0.1:99999/',
    'http://[/',
    '//127.0.0.1/',
    'http://127.0.0.1/#a',
    `http://127.0.0.1/${'a'.repeat(2000)}`,
  ])('refuses to send back to %j', async (uri) => {
    expect(await given(uri)).toEqual({ status: 400, location: 'undefined' });
    const target = `/authorize?client_id=a&response_type=code&redirect_uri=${encodeURIComponent(uri)}`;
    expect((await ask(target)).status).toBe(400);
    const end = await ask(`/end-session?post_logout_redirect_uri=${encodeURIComponent(uri)}`);
    expect(end.status).toBeLessThan(500);
  });

  test('an address is compared, not read, once a code was given for another', async () => {
    for (const uri of ['http://[', 'http://127.0.0.1/back/', 'http://127.0.0.1/back%', '']) {
      const { location } = await given(BACK);
      const answer = await taken(codeIn(location), uri);
      expect([answer.status, answer.body]).toEqual([400, '{"error":"invalid_grant"}']);
    }
  });

  test.each(['Basic %%%', `Basic ${Buffer.from('%zz:x').toString('base64')}`, 'Basic ', 'Bearer x'])(
    'a client that calls itself %j is another one',
    async (authorization) => {
      const { location } = await given(BACK);
      const answer = await taken(codeIn(location), BACK, { authorization, 'x-probe': 'a' });
      expect(answer.status).toBeLessThan(500);
    },
  );

  test.each(['http://[/authorize', '/authorize?%', '/authorize?client_id=%ff%00', '//[/authorize'])(
    'the target %j is no fault of its own',
    async (target) => {
      expect((await ask(target)).status).toBeLessThan(500);
    },
  );

  test('a reset ends what was given before it', async () => {
    const before = codeIn((await given(BACK)).location);
    const shown = codeIn((await given(BACK)).location);
    const { access_token } = JSON.parse((await taken(shown)).body) as { access_token: string };
    const info = () =>
      sendOver(issuer, 'GET', '/userinfo', {
        host: new URL(issuer).host,
        authorization: `Bearer ${access_token}`,
      });
    expect((await info()).status).toBe(200);
    await asked.post('/-/reset', {}, { authorization: `Bearer ${asked.standIn.secret}` });
    expect([(await info()).status, (await taken(before)).status]).toEqual([401, 400]);
  });

  test('gives nothing more once too much is on record', async () => {
    const full = jest.spyOn(asked.standIn.site, 'isFull', 'get').mockReturnValue(true);
    expect((await given(BACK)).status).toBe(503);
    full.mockRestore();
    expect((await given(BACK)).status).toBe(303);
  });

  test('answers under its own names only', async () => {
    expect((await sendOver(issuer, 'GET', '/jwks', { host: 'evil.example' })).status).toBe(421);
  });

  test('takes no cookie and gives no code that could be made up', async () => {
    const start = await asked.ask('GET', '/go');
    const to = new URL(String(start.headers['location']));
    const at = (cookie: string) =>
      sendOver(issuer, 'GET', to.pathname + to.search, { host: to.host, cookie });
    expect((await at('provider-session=provider-1')).status).toBe(200);
    const form = { host: to.host, 'content-type': 'application/x-www-form-urlencoded' };
    const fields = new URLSearchParams(to.search);
    fields.set('person', 'ann');
    const answer = await sendOver(issuer, 'POST', '/login', form, fields.toString());
    expect((await at(cookies(answer))).status).toBe(302);
    expect(String(answer.headers['location'])).toMatch(
      /^http:\/\/127\.0\.0\.1:\d+\/go\/back\?code=code-\d+\.[\w-]{22}&state=asked-1\./,
    );
    const made = await asked.ask('GET', '/go/back?code=code-1&state=asked-1', { cookie: cookies(start) });
    expect(made.headers['location']).toBe('/in');
    const { pathname, search } = new URL(String(answer.headers['location']));
    const back = await asked.ask('GET', pathname + search, { cookie: cookies(start) });
    expect(back.headers['location']).toBe('/desk');
  });
});

interface Row {
  readonly state: string;
  readonly pkce: boolean;
  readonly nonce: string;
  readonly own: boolean;
  readonly begun: boolean;
  readonly fresh: boolean;
}

test('an app takes the answers that one on well-known packages takes, whichever checks it leaves out', async () => {
  const rows = await printed<Row[]>();
  expect(rows).toHaveLength(12);
  const taken = (checks: Omit<Row, 'own' | 'begun' | 'fresh'>, ...steps: string[]) => {
    const { state, pkce, nonce } = checks;
    const more = provider(`, state: ${state}, pkce: ${pkce}, nonce: ${nonce}`);
    return playSteps(policyText({ more }), steps).steps.at(-1)?.outcome.seenAs !== 'guest';
  };
  const planted = '{ plant-answer: { of: bo, with: port-id } }';
  const ours = rows.map(({ state, pkce, nonce }) => {
    const checks = { state, pkce, nonce };
    return {
      ...checks,
      own: taken(checks, '{ login: { as: ann, with: port-id } }'),
      begun: taken(checks, '{ visit: /go }', planted),
      fresh: taken(checks, planted),
    };
  });
  expect(ours).toEqual(rows);
});

import { connect } from 'node:net';
import { Asked, cookies, FORM, type Headers } from '../support/asked-stand-in';

let asked: Asked;
afterEach(async () => {
  await asked.standIn.stop();
});

const JSON_WANTED = { accept: 'application/json' };
const steering = () => ({ authorization: `Bearer ${asked.standIn.secret}` });

/** Sends bytes as they are and gives what comes back until the server hangs up. */
const say = (bytes: string): Promise<string> =>
  new Promise((settle) => {
    const { hostname, port } = new URL(asked.standIn.address);
    const socket = connect(Number(port), hostname, () => socket.end(bytes));
    let said = '';
    socket.on('data', (part) => (said += part.toString()));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      settle(said);
    });
  });

describe('after a reset', () => {
  test('nothing that was handed out before is anybody’s', async () => {
    asked = await Asked.withTokens();
    const first = await asked.logIn();
    const before = JSON.parse(first.body) as { access_token: string; refresh_token: string };
    const bearer = { authorization: `Bearer ${before.access_token}` };
    expect((await asked.ask('GET', '/api/a', bearer)).status).toBe(200);
    expect((await asked.post('/-/reset', {}, steering())).status).toBe(200);
    // The next login takes the numbers of the first.
    await asked.post('/in', { account: 'bo', password: 'b-2' }, JSON_WANTED);
    expect((await asked.ask('GET', '/desk', { cookie: cookies(first) })).status).toBe(302);
    expect((await asked.ask('GET', '/api/a', bearer)).status).toBe(401);
    const refresh = { grant_type: 'refresh_token', refresh_token: before.refresh_token };
    expect((await asked.post('/oauth/token', refresh)).status).toBe(400);
  });

  test('requests under way belong to the time before or after, never to both', async () => {
    asked = await Asked.withTokens();
    const names = ['ann', 'bo'] as const;
    const passwords = { ann: 'a-1', bo: 'b-2' };
    for (let round = 0; round < 20; round++) {
      const logins = names.map((account) =>
        asked.post('/in', { account, password: passwords[account] }, JSON_WANTED),
      );
      const reset = asked.post('/-/reset', {}, steering());
      const answers = await Promise.all([...logins, reset]);
      const seen = await Promise.all(
        names.map(async (name, at) => {
          const answer = answers[at];
          if (answer === undefined || answer.status !== 200) return 'refused';
          const { access_token: token } = JSON.parse(answer.body) as { access_token: string };
          const { body } = await asked.ask('GET', '/api/a', { authorization: `Bearer ${token}` });
          const { for: whose = null } = JSON.parse(body) as { for?: string | null };
          return whose === null || whose === name ? 'right' : `${name} is taken for ${whose}`;
        }),
      );
      expect(seen.filter((each) => each.includes('taken'))).toEqual([]);
    }
  });
});

describe('one reading of a path', () => {
  const CONFIRM = {
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] } }',
    landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
    more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm, lands: / }\nconfirm: { path: /confirm/:token, life: 1h }',
  };
  test.each([
    '/confirm/link-0',
    '/confirm/%63onfirm-0',
    '/confirm/confirm%2d0',
    '/%63onfirm/c%6Fnfirm-%30',
    '/confirm/./link-0',
    '//confirm//link-0/',
    '/confirm/x/../%63onfirm-0',
    '/confirm/link-0.aaaaaaaaaaaaaaaaaaaaaa',
  ])('a link is not guessed as %s', async (target) => {
    asked = await Asked.start(CONFIRM);
    await asked.post('/join', { account: 'nell', password: 'n' });
    const { status } = await asked.ask('GET', target);
    expect([404, 400]).toContain(status);
    expect(asked.standIn.site.state.accounts.get('nell')?.state).toBe('unconfirmed');
  });

  test('a link is taken however it is encoded', async () => {
    asked = await Asked.start(CONFIRM);
    await asked.post('/join', { account: 'nell', password: 'n' });
    const { messages } = (await asked.json('/-/state')) as { messages: { text: string }[] };
    const link = messages[0]?.text ?? '';
    await asked.ask('GET', link.replace('/confirm/c', '//confirm/./%63'));
    expect(asked.standIn.site.state.accounts.get('nell')?.state).toBe('active');
  });

  test.each(['/in', '/%69n', '//in', '/./in/'])('the login form has its own names at %s', async (target) => {
    asked = await Asked.start({
      login: 'login: { page: /in, submit: POST /in, fields: { account: email, password: pass } }',
    });
    const { headers } = await asked.post(target, { email: 'ann', pass: 'a-1' });
    expect(headers['location']).toBe('/desk');
  });
});

describe('a Location', () => {
  const HTTPS = {
    rules: 'rules: [{ path: /**, for: everyone, scheme: https }]',
  };
  test.each([
    ['//evil.example/x', '/evil.example/x'],
    ['///evil.example/x', '/evil.example/x'],
    ['/%2e//evil.example', '/evil.example'],
    ['/.//evil.example/?a', '/evil.example?a'],
    ['/desk', '/desk'],
  ])('for %s over http leads nowhere else', async (target, location) => {
    asked = await Asked.start(HTTPS);
    const { status, headers } = await asked.ask('GET', target, { 'x-forwarded-proto': 'http' });
    expect([status, headers['location']]).toEqual([308, location]);
  });

  test('is ASCII, whatever the policy or a form says', async () => {
    asked = await Asked.start({
      pages: 'pages: { /: { for: everyone }, /büro: { for: guests }, /übersicht: { for: [clerk] } }',
      login: 'login: { page: /büro, submit: POST /büro, return: { accept: anything } }',
      landing: 'landing: [{ role: clerk, to: /übersicht }, { otherwise: / }]',
    });
    const turned = await asked.ask('GET', '/%C3%BCbersicht');
    expect(turned.headers['location']).toBe('/b%C3%BCro?back=/%25C3%25BCbersicht');
    const fields = { account: 'ann', password: 'a-1' };
    expect((await asked.post('/b%C3%BCro', fields)).headers['location']).toBe('/%C3%BCbersicht');
    const back = await asked.post('/b%C3%BCro', {
      ...fields,
      back: 'https://日.example/\r\nSet-Cookie: ü=b',
    });
    expect(back.status).toBe(303);
    expect(back.headers['location']).toMatch(/^[!-~]+$/);
  });
});

describe('what would cost too much', () => {
  test.each([
    ['a long name', 'POST', '/in', { account: 'a'.repeat(2_000), password: 'x' }, 400],
    ['a long password', 'POST', '/in', { account: 'ann', password: 'x'.repeat(5_000) }, 400],
    ['a long name at sign-up', 'POST', '/join', { account: 'a'.repeat(2_000), password: 'x' }, 400],
  ] as [string, string, string, Headers, number][])(
    '%s is refused at once',
    async (_what, _m, target, form, status) => {
      asked = await Asked.start({
        pages:
          'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /desk: { for: [clerk] } }',
        landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
        more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk] }',
      });
      const { state } = asked.standIn.site;
      expect((await asked.post(target, form)).status).toBe(status);
      expect(asked.standIn.site.state).toBe(state);
    },
  );

  test('two Host headers are refused', async () => {
    asked = await Asked.start();
    const said = await say(
      'GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nHost: localhost\r\nConnection: close\r\n\r\n',
    );
    expect(said).toMatch(/^HTTP\/1\.1 400 /);
  });

  test('one who sends without waiting does not keep the others waiting', async () => {
    asked = await Asked.start();
    const { hostname, port } = new URL(asked.standIn.address);
    const flood = connect(Number(port), hostname);
    flood.on('error', () => undefined);
    flood.resume();
    const one = 'GET /desk HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n';
    flood.write(one.repeat(20_000));
    let answered = 0;
    for (let at = 0; at < 20; at++) answered += Number((await asked.ask('GET', '/')).status === 200);
    expect(answered).toBe(20);
    // The flood is still under way: nobody had to wait for its end.
    expect(asked.standIn.site.entries.at(-1)?.number ?? 0).toBeLessThan(20_000);
    flood.destroy();
  });
});

describe('steering', () => {
  test('reads a form and JSON, and refuses any other body by name', async () => {
    asked = await Asked.start();
    const json = { ...steering(), 'content-type': 'application/json' };
    expect((await asked.ask('POST', '/-/suspend', json, '{"account":"ann"}')).status).toBe(200);
    expect(asked.standIn.site.state.accounts.get('ann')?.state).toBe('suspended');
    for (const body of ['[]', '"ann"', 'null', '{"account":{}}', '{"account":["ann"]}', '{']) {
      expect((await asked.ask('POST', '/-/suspend', json, body)).status).toBe(400);
    }
    const text = await asked.ask(
      'POST',
      '/-/suspend',
      { ...steering(), 'content-type': 'text/plain' },
      'ann',
    );
    expect(text.status).toBe(415);
    const form = await asked.ask('POST', '/-/suspend', { ...FORM, ...steering() }, 'account=bo');
    expect(form.status).toBe(200);
  });
});

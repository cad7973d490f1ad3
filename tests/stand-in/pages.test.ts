import { Asked, cookies, type Headers } from '../support/asked-stand-in';
import { steer } from '../support/over-the-wire';

let asked: Asked;
afterEach(async () => {
  await asked.standIn.stop();
});

describe('pages', () => {
  test('text of a policy is escaped wherever it is shown, and nothing from elsewhere is let in', async () => {
    asked = await Asked.start({ more: `menu: [{ to: '/?a=1&b="><i>', text: '<script>alert(1)</script>' }]` });
    const { body, headers } = await asked.ask('GET', '/', { accept: 'text/html' });
    expect(body).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
    expect(body).not.toContain('<script>alert');
    expect(body).not.toContain('"><i>');
    expect(headers['content-security-policy']).toContain("default-src 'none'");
    expect(headers['content-security-policy']).not.toContain('unsafe');
  });

  test('the address of a request cannot break out of the data that script reads', async () => {
    asked = await Asked.withTokens();
    const { body } = await asked.ask('GET', '/in?back=</script><b>', { accept: 'text/html' });
    expect(body).not.toContain('</script><b>');
  });

  test('the strip says who one is, by what, what is left, and why the last refusal came', async () => {
    asked = await Asked.start();
    const refused = await asked.ask('GET', '/desk', { accept: 'text/html' });
    const signedIn = await asked.post('/in', { as: 'ann' });
    const cookie = `${cookies(signedIn)}; ${cookies(refused)}`;
    await steer(asked.standIn, 'clock', { wait: '10m' });
    const { body } = await asked.ask('GET', '/', { accept: 'text/html', cookie });
    const words = body.replace(/<[^>]*>/g, ' ').replace(/\s+/g, ' ');
    expect(words).toContain('You are ann (clerk)');
    expect(words).toContain('Known by session');
    expect(words).toContain('idle 30m left, absolute 7h50m left');
    expect(words).toContain('Last refusal /desk: guest');
  });

  test.each(['!', 'bm90IGpzb24', Buffer.from('[1,2]').toString('base64url')])(
    'a made-up note of a refusal (%s) is no note',
    async (note) => {
      asked = await Asked.start();
      const { body, status } = await asked.ask('GET', '/', {
        accept: 'text/html',
        cookie: `stand-in-refusal=${note}`,
      });
      expect([status, body.includes('Last refusal')]).toEqual([200, false]);
    },
  );
});

test('once too much is on record nothing more is answered, until a reset', async () => {
  asked = await Asked.start();
  const { site } = asked.standIn;
  const form = new Map([
    ['account', 'ann'],
    ['password', 'a-1'],
  ]);
  const login = {
    method: 'POST',
    origin: 'https://app.example',
    path: '/in',
    query: '',
    cookie: '',
    authorization: '',
    apiKey: '',
    accept: 'text/html',
    referer: '',
    client: '203.0.113.7',
    crossOrigin: false,
    form,
  } as const;
  while (!site.isFull) site.answer(login);
  expect((await asked.ask('GET', '/')).status).toBe(503);
  await steer(asked.standIn, 'reset');
  expect((await asked.ask('GET', '/')).status).toBe(200);
});

describe('steering', () => {
  test('moves the clock, never back, and tells the time', async () => {
    asked = await Asked.start();
    await steer(asked.standIn, 'clock', { wait: '90s' });
    await steer(asked.standIn, 'clock', { to: '30' });
    expect(await asked.json('/-/now')).toEqual({ now: 90, clock: 'virtual' });
  });

  test('a real clock runs by itself', async () => {
    asked = await Asked.start({}, 'real');
    const now = async () => ((await asked.json('/-/now')) as { now: number }).now;
    const first = await now();
    for (let tries = 0; (await now()) === first && tries < 500; tries++) {
      await new Promise((go) => setTimeout(go, 10));
    }
    expect(await now()).toBeGreaterThan(first);
  });

  test('shows what is on record, and changes accounts', async () => {
    asked = await Asked.start();
    const cookie = cookies(await asked.logIn());
    const state = async () =>
      (await asked.json('/-/state')) as {
        records: { handle: string; counts: boolean }[];
        accounts: { name: string; state: string; roles: string[] }[];
      };
    expect((await state()).records).toMatchObject([{ handle: 'session-1', account: 'ann', counts: true }]);
    await steer(asked.standIn, 'set-roles', { account: 'ann', roles: 'chief' });
    expect((await asked.ask('GET', '/safe', { cookie })).status).toBe(200);
    await steer(asked.standIn, 'suspend', { account: 'ann' });
    expect((await state()).records).toMatchObject([{ counts: false, because: 'suspended' }]);
    await steer(asked.standIn, 'delete-account', { account: 'cy' });
    expect((await state()).accounts.map(({ name }) => name)).toEqual(['ann', 'bo']);
    await steer(asked.standIn, 'reset');
    expect((await state()).accounts).toHaveLength(3);
    expect((await state()).records).toEqual([]);
  });

  test('lists requests with why they came out so', async () => {
    asked = await Asked.start();
    await asked.ask('GET', '/desk');
    await asked.ask('GET', '/nowhere');
    const entries = (await asked.json('/-/requests')) as { number: number; why: string }[];
    expect(entries.map(({ why }) => why)).toEqual(['guest', 'unknown-page']);
    expect(await asked.json(`/-/requests?after=${entries[0]?.number ?? 0}`)).toHaveLength(1);
  });

  test.each([
    ['another origin', () => ({ origin: 'http://evil.example' })],
    ['none', () => ({})],
    ['a wrong secret', () => ({ authorization: 'Bearer wrong' })],
  ])('is refused to %s', async (_who, headers: () => Headers) => {
    asked = await Asked.start();
    expect((await asked.post('/-/clock', { wait: '1m' }, headers())).status).toBe(403);
    expect(await asked.json('/-/now')).toMatchObject({ now: 0 });
  });

  test('is open to the pages of the stand-in itself, which it leads back to', async () => {
    asked = await Asked.start();
    const answer = await asked.post(
      '/-/clock',
      { wait: '1m' },
      { origin: asked.standIn.address, accept: 'text/html' },
    );
    expect([answer.status, answer.headers['location']]).toEqual([303, '/-/']);
    expect((await asked.ask('GET', '/-/')).body).toContain('Clock: 1m after the start');
  });

  test.each([
    ['clock', { wait: 'soon' }, /^wait: a duration is written/],
    ['clock', { to: '-1' }, /^to: give whole seconds/],
    ['suspend', { account: 'nobody' }, /^account: name one/],
    ['set-roles', { account: 'ann', roles: 'pilot' }, /^roles: name roles/],
  ])('%s with %j is told what is wrong', async (deed, fields, words) => {
    asked = await Asked.start();
    const answer = await asked.post(`/-/${deed}`, fields, {
      authorization: `Bearer ${asked.standIn.secret}`,
    });
    expect([answer.status, (JSON.parse(answer.body) as { title: string }).title]).toEqual([
      400,
      expect.stringMatching(words),
    ]);
  });
});

import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { draftFormat } from '../../src/render/draft/draft-json';
import { found, freePort, whileRunning } from '../support/app-runs';
import { Workplace } from '../support/program';

const SUPPORT = join(__dirname, '..', 'support');
const appAt = (name: string) => join(SUPPORT, 'apps', `${name}.mjs`);
const KEYS = { ADA: 'a-1', BEN: 'b-2', CAL: 'c-3' };
const ENV = { ...KEYS, CHROMIUM: process.env['CHROMIUM'] ?? '' };

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

const linesOf = (text: string) => text.split('\n').map((line) => line.replace(/ # .*/, '').trim());

/** Looks round in an app as everybody, and gives what was drafted, line by line. */
async function lookedRound(name: string, login: string, mail = ''): Promise<readonly string[]> {
  const accounts = Object.keys(KEYS).map((key) => {
    const person = key.toLowerCase();
    return mail === '' ? `${person}:env:${key}` : `${person}=${person}${mail}:env:${key}`;
  });
  const { status, out, err } = await whileRunning(appAt(name), (at) =>
    place.run(['draft', '--at', at, '--login', login, '--account', ...accounts, '--format', 'json'], {
      env: ENV,
    }),
  );
  expect([status, err]).toEqual([0, '']);
  const told = draftFormat.parse(JSON.parse(out));
  expect([told.otherwise, told.notes]).toEqual([[], []]);
  // No walk breaks a law: the policy says of each page what is so.
  expect(place.run(['walk']).status).toBe(0);
  return linesOf(place.read('cavrin.yaml'));
}

/** What the app does otherwise than the draft. */
async function differences(name: string, more: string, mail = '') {
  const account = (key: string) => {
    const person = key.toLowerCase();
    return `${person}: { ${mail === '' ? '' : `name: '${person}${mail}', `}password: env:${key} }`;
  };
  place.put(
    'live.yaml',
    [
      'cavrin-live: 1',
      'at: http://127.0.0.1:4100',
      `start: { run: 'node ${appAt(name)}', env: { PORT: '{port}' } }`,
      `accounts: { ${Object.keys(KEYS).map(account).join(', ')} }`,
      more,
    ].join('\n'),
  );
  const { findings, totals } = await found(
    place.folder,
    ['--at', `http://127.0.0.1:${await freePort()}`],
    KEYS,
  );
  expect(totals.steps).toBeGreaterThan(40);
  return findings;
}

test('an app whose script sends the login as JSON, for a cookie', async () => {
  const lines = await lookedRound('json-login', '/login', '@site.example');
  expect(lines).toEqual(
    expect.arrayContaining([
      'ben: { password: ben-1, roles: [for-articles] }',
      '/: { for: everyone, methods: [GET] }',
      '/admin: { for: [for-admin], methods: [GET], loads: [GET /api/me] }',
      '/api/me: { for: signed-in, kind: api, methods: [GET] }',
      '/articles: { for: [for-articles], methods: [GET], loads: [GET /api/me] }',
      '/login: { for: guests, methods: [GET] }',
      '/orders/:id: { for: signed-in, methods: [GET], loads: [GET /api/me] }',
      'login: { page: /login, submit: POST /api/auth/login, wrong: { status: 401 }, return: { param: redirect }, fields: { account: email } }',
      'logout: { submit: POST /api/auth/logout, lands: /login, status: 204 }',
      '- { role: for-admin, to: /admin }',
      '- { role: for-articles, to: /articles }',
      '- { otherwise: /dashboard }',
      'session: { cookie: { name: connect.sid, secure: false } }',
    ]),
  );
  expect(await differences('json-login', 'login: { sends: json }', '@site.example')).toEqual([]);
}, 300_000);

test('a single page whose refresh token is a cookie', async () => {
  const lines = await lookedRound('refresh-cookie', '/login');
  expect(lines).toEqual(
    expect.arrayContaining([
      '/api/me: { for: signed-in, kind: api, methods: [GET] }',
      '/login: { for: guests, methods: [GET], guard: browser }',
      '/reports: { for: [for-reports], methods: [GET], loads: [GET /api/reports], guard: browser }',
      '/todos: { for: signed-in, methods: [GET], loads: [GET /api/todos], guard: browser }',
      '/users: { for: [for-users], methods: [GET], loads: [GET /api/users], guard: browser }',
      'refusals: { role: /, unknown: shell, api: { unknown: 404 } }',
      'login: { page: /login, submit: POST /api/auth/login, by: tokens, wrong: { status: 401 }, return: { param: from }, fields: { account: username } }',
      'logout: { submit: POST /api/auth/logout, lands: /login, status: 204 }',
      '- { role: for-users, to: /users }',
      '- { role: for-reports, to: /reports }',
      '- { otherwise: /todos }',
      'tokens: { access: { life: 10m, kept: browser }, refresh: { life: 7d, rotates: true }, submit: POST /api/auth/refresh, refused: 401 }',
    ]),
  );
  // The draft says aloud what the language has no word for: that each load of a page renews the token.
  const told = await differences(
    'refresh-cookie',
    'login: { sends: json }\ncredentials: { refresh: { cookies: refresh_token } }',
  );
  expect(told.flatMap(({ first }) => first.differences.map(({ aspect }) => aspect))).toEqual(['refreshes']);
}, 300_000);

test('an app of forms whose addresses end in slashes, and whose login is where the wrong role is sent', async () => {
  const lines = await lookedRound('slashes', '/accounts/login/');
  expect(lines).toEqual(
    expect.arrayContaining([
      '/accounts/login: { for: everyone, methods: [GET] }',
      '/accounts/signup: { for: guests, methods: [GET] }',
      '/admin: { for: [for-admin], methods: [GET] }',
      '/profile: { for: signed-in, methods: [GET] }',
      '/staff: { for: [for-staff], methods: [GET] }',
      'refusals: { role: login }',
      'login: { page: /accounts/login/, submit: POST /accounts/login/, wrong: { shown: true, status: 200 }, return: { param: next }, fields: { account: username } }',
      'logout: { submit: GET /accounts/logout/ }',
      'session: { starts: at-login, idle: 14d, cookie: { name: sessionid, secure: false, life: 14d } }',
      // The token of guests goes by a cookie of its own.
      'csrf: { token: per-session, field: csrfmiddlewaretoken, origin: checked }',
    ]),
  );
  expect(await differences('slashes', '')).toEqual([]);
  // What is wrong with the app is all that the proof finds: a link logs people out.
  const { out } = place.run(['prove']);
  expect(out.match(/^ {2}✗ \S+/gm)).toEqual(['  ✗ own-request']);
  expect(out).toContain('another site logs ada out by GET /accounts/logout/');
}, 300_000);

test('somebody who signs up, beside somebody who logs in', async () => {
  const script = join(SUPPORT, 'record-sign-up.mjs');
  const { stderr } = await whileRunning(appAt('slashes'), (at) =>
    spawnSync(process.execPath, [script, at, place.folder], { encoding: 'utf8' }),
  );
  expect(stderr).toBe('');
  const { status, out } = place.run(['draft', '--har', 'dee=dee.har', '--har', 'ben=ben.har']);
  expect([status, out]).toEqual([0, expect.stringContaining('come out on the draft as recorded')]);
  const lines = linesOf(place.read('cavrin.yaml'));
  expect(lines).toEqual(
    expect.arrayContaining([
      '/accounts/signup: { for: guests, methods: [GET] }',
      '/staff: { for: [for-staff], methods: [GET] }',
      'sign-up: { page: /accounts/signup/, submit: POST /accounts/signup/, then: login, lands: /welcome/ }',
    ]),
  );
  // Whoever signs up has no account before.
  expect(lines.filter((line) => line.startsWith('dee:'))).toEqual([]);
  const walks = place.read('walks/recorded.yaml');
  expect(walks).toContain('{ sign-up: { as: dee, password: dee-1 }, lands: /welcome/ }');
  expect(walks + lines.join()).not.toContain('d-4-of-her-own');
  expect(place.run(['walk']).status).toBe(0);
}, 120_000);

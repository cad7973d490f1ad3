import { copyFileSync, existsSync, readFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { found, freePort, isListening, live, untilListening } from '../support/app-runs';
import { PROGRAM, Workplace } from '../support/program';

const POLICY = `cavrin: 1
app: Small desk
origin: http://desk.example
accounts:
  ines: { password: harbour-sand-12 }
  tomas: { password: not-the-real-one }
pages:
  /:      { for: everyone, methods: [GET], cache: no-store }
  /enter: { for: guests, methods: [GET], cache: no-store }
  /desk:  { for: signed-in, methods: [GET] }
  /tomas: { for: { account: [tomas] }, methods: [GET] }
refusals: { method: 404 }
login: { page: /enter, submit: POST /enter, wrong: { shown: true, status: 401 } }
landing: [{ otherwise: /desk }]
logout: { submit: GET /log-out }
session: { absolute: 1m, renews: never, cookie: { name: sid, secure: false } }
`;
const WALKS = `walks:
  - name: In and out
    steps:
      - { visit: /desk, lands: /enter }
      - { login: ines, lands: /desk }
      - { visit: /enter, lands: /desk }
      - { logout: , lands: / }
      - { visit: /desk, lands: /enter }
  - name: A minute
    steps:
      - { login: tomas }
      - { wait: { short-of: session-absolute } }
      - { visit: /desk, lands: /desk }
      - { wait: { past: session-absolute } }
      - { visit: /desk, lands: /enter }
  - name: A wrong password
    steps:
      - { login: { as: ines, password: no }, lands: /enter, status: 401 }
      - { login: ines, lands: /desk }
`;
const live_ = (port: number, more = '') => `cavrin-live: 1
at: http://127.0.0.1:${port}/app
start: { run: node small-app.mjs, ready: GET /, within: 5s, env: { PORT: '{port}' } }
accounts:
  ines: { name: ines@harbour.example }
  tomas: { name: tomas@harbour.example, password: env:TOMAS_PASSWORD }
who: { element: .who b }
${more}`;

const SECRETS = { TOMAS_PASSWORD: 'pier-lantern-9' };
const OPEN = POLICY.replace('{ account: [tomas] }', 'signed-in');
let place: Workplace;
let port: number;
beforeEach(async () => {
  place = new Workplace();
  port = await freePort();
  copyFileSync(join(__dirname, '../support/small-app.mjs'), join(place.folder, 'small-app.mjs'));
  place.put('cavrin.yaml', OPEN);
  place.put('walks.yaml', WALKS);
  place.put('live.yaml', live_(port));
});
afterEach(() => {
  place.remove();
});

const run = (args: readonly string[] = [], env: Record<string, string> = {}) =>
  live(place.folder, args, { ...SECRETS, ...env });
test('an app below a base path, with a link to log out and a policy that it follows', async () => {
  const { status, out, err } = await run();
  expect([err, status]).toEqual(['', 0]);
  expect(out).toContain('3 walks, 12 steps');
  expect(out).toContain('the app does what the policy says');
  expect(await isListening(port)).toBe(false);
});

test('with real waiting, which says how long it takes', async () => {
  place.put('cavrin.yaml', OPEN.replace('1m', '6s'));
  place.put('live.yaml', live_(port, 'clock: real'));
  const { out, err, seconds } = await run(['--only', 'minute'], { LIFE: '6' });
  expect(err).toContain('The walks wait for real, for 7s in all.');
  expect(out).toContain('the app does what the policy says');
  expect(seconds).toBeGreaterThan(7);
});

test('what only one is to see, where the app answers everything with 200', async () => {
  place.put('live.yaml', live_(port, "pages: { /tomas: { shown-when: 'h1:Of Tomas' } }"));
  place.put(
    'walks.yaml',
    'walks: [{ name: Of one, steps: [{ login: ines }, { visit: /tomas }, { logout: }, { login: tomas }, { visit: /tomas }] }]',
  );
  place.put(
    'cavrin.yaml',
    POLICY.replace('{ account: [tomas] }', '[keeper]')
      .replace('accounts:', 'roles: { keeper: [] }\naccounts:')
      .replace('not-the-real-one', 'not-the-real-one, roles: [keeper]'),
  );
  expect((await found(place.folder, [], SECRETS)).findings).toEqual([]);
  const { findings } = await found(place.folder, [], { ...SECRETS, MOOD: 'opens' });
  expect(findings.map(({ class: name, title }) => [name, title])).toEqual([['opens', 'GET /tomas is open']]);
});

test('who one is, where only a request tells it, is asked once a walk is over', async () => {
  place.put('cavrin.yaml', OPEN.replace('refusals:', '  /me: { for: signed-in, kind: api }\nrefusals:'));
  place.put('live.yaml', live_(port).replace(/who: .*/, 'who: { request: GET /me, at: /user/name }'));
  place.put(
    'walks.yaml',
    'walks: [{ name: Out, steps: [{ login: ines }, { logout: }] }, { name: In, steps: [{ login: ines }] }]',
  );
  const sound = await found(place.folder, ['--http'], SECRETS);
  expect([sound.findings, sound.totals.steps]).toEqual([[], 3]);
  const { findings } = await found(place.folder, ['--http'], { ...SECRETS, MOOD: 'keeps' });
  expect(findings.map((each) => each.class)).toEqual(['opens']);
});

test('a page that tells nobody who they are is not taken for one that knows nobody', async () => {
  place.put(
    'cavrin.yaml',
    OPEN.replace('refusals:', '  /print: { for: signed-in, methods: [GET] }\nrefusals:'),
  );
  place.put(
    'walks.yaml',
    'walks: [{ name: Print, steps: [{ login: ines }, { visit: /print }, { visit: /desk }] }]',
  );
  const { findings, notJudged } = await found(place.folder, ['--http'], SECRETS);
  expect(findings).toEqual([]);
  expect(notJudged).toContainEqual({
    aspect: 'seen-as',
    reason: 'no page at /print told anybody who they are',
    steps: 1,
  });
});

/** Apps that cannot be judged, and how the run ends. */
const MOODS = [
  ['dies', /node small-app\.mjs ended by itself with status 7/],
  ['crashes', /ended by itself with status 3/],
  ['fails', /did not answer GET \/ with success within 5s/],
  ['late', /did not answer GET \/ with success within 5s/],
] as const;

test.each(MOODS)('an app that %s gives a clear end', async (mood, said) => {
  const { status, out, err } = await run([], { MOOD: mood });
  expect(err).toMatch(said);
  expect([status, out]).toEqual([2, '']);
  expect(err).not.toContain('pier-lantern-9');
  expect(await isListening(port)).toBe(false);
});

test('an app that hangs is not waited for without end', async () => {
  const { status, out } = await run(['--patience', '1', '--only', 'wrong'], { MOOD: 'hangs' });
  expect(out).toContain('no answer to GET /app/enter within 1s');
  expect(status).toBe(1);
});

test('an app that does not stop is stopped all the same', async () => {
  expect((await run([], { MOOD: 'deaf' })).status).toBe(0);
  expect(await isListening(port)).toBe(false);
});

test('an app that is not there, and one that fails at everything, where the run does not start them', async () => {
  place.put('live.yaml', live_(port).replace(/start: .*\n/, ''));
  const gone = await run();
  expect([gone.status, gone.err]).toEqual([
    2,
    expect.stringContaining(`http://127.0.0.1:${port}/app: nothing listens there`),
  ]);
  const child = spawn(process.execPath, ['small-app.mjs'], {
    cwd: place.folder,
    env: { PATH: process.env['PATH'], MOOD: 'fails', PORT: String(port) },
  });
  await untilListening(port);
  const failing = await run();
  child.kill();
  expect([failing.status, failing.err]).toEqual([2, expect.stringContaining('with a status of 500 or more')]);
});

test('what leads off the app is told, and not asked', async () => {
  const { findings } = await found(place.folder, ['--only', 'In and out'], { ...SECRETS, MOOD: 'leads off' });
  const [first] = findings;
  expect(first?.first.appMessages.map(({ target, location }) => [target, location])).toEqual([
    ['/desk', '/enter'],
    ['/enter', `http://127.0.0.1:${port}/elsewhere`],
  ]);
});

test('neither passwords nor cookies are in any output', async () => {
  for (const format of ['text', 'json', 'junit', 'sarif']) {
    const { out, err } = await run(['--format', format, '--verbose'], { MOOD: 'leads off' });
    expect(`${out}${err}`).not.toMatch(/pier-lantern-9|harbour-sand-12|sid=[0-9a-f]{24}/);
    expect(out).not.toBe('');
  }
});

test('an interrupt stops the app and asks nothing more', async () => {
  place.put('live.yaml', live_(port, 'clock: real'));
  const child = spawn(process.execPath, [PROGRAM, 'live', '--only', 'minute'], {
    cwd: place.folder,
    env: { PATH: process.env['PATH'], ...SECRETS },
  });
  let err = '';
  child.stderr.on('data', (part: Buffer) => (err += part.toString()));
  await untilListening(port);
  await new Promise((go) => setTimeout(go, 500));
  child.kill('SIGINT');
  const status = await new Promise((settle) => child.on('exit', settle));
  expect([status, err]).toEqual([3, expect.stringContaining('interrupted')]);
  expect(await isListening(port)).toBe(false);
});

/** What is wrong with a live.yaml, and what is said of it. */
const WRONG = [
  ['cavrin-live: 2', 'at: http://127.0.0.1:1', /expected 1, the version of this format, found the number 2/],
  ['cavrin-live: 1', 'at: ftp://x', /starts with http:\/\/ or https:\/\//],
  ['cavrin-live: 1', 'at: http://u:p@127.0.0.1', /without a user/],
  [
    'cavrin-live: 1\nstrat: {}',
    'at: http://127.0.0.1:1',
    /unknown key strat in a live run[\s\S]*did you mean start\?/,
  ],
  [
    'cavrin-live: 1\naccounts: { ines: { password: secret } }',
    'at: http://127.0.0.1:1',
    /a secret is not written here: write env:NAME/,
  ],
  ['cavrin-live: 1\nclock: preload', 'at: http://127.0.0.1:1', /say how, with start/],
  ['cavrin-live: 1\nreset: restart', 'at: http://127.0.0.1:1', /say how, with start/],
  [
    "cavrin-live: 1\nstart: { run: 'node \"x' }",
    'at: http://127.0.0.1:1',
    /a quote in this command is not closed/,
  ],
  [
    'cavrin-live: 1\nwho: { request: me, at: /name }',
    'at: http://127.0.0.1:1',
    /a request is written as its method and path/,
  ],
  [
    'cavrin-live: 1\nwho: { request: GET /me, at: name }',
    'at: http://127.0.0.1:1',
    /a JSON pointer starts with a slash/,
  ],
  [
    'cavrin-live: 1\nwho: { header: X-User, says: { inees: Ines } }',
    'at: http://127.0.0.1:1',
    /no account is called inees[\s\S]*did you mean ines\?/,
  ],
  [
    'cavrin-live: 1\npages: { /deks: { shown-when: h1 } }',
    'at: http://127.0.0.1:1',
    /no page is called \/deks[\s\S]*did you mean \/desk\?/,
  ],
  ['cavrin-live: 1\nwho: { element: "p[" }', 'at: http://127.0.0.1:1', /p\[ is no usable CSS selector/],
  [
    'cavrin-live: 1',
    'at: http://10.1.2.3:80',
    /10\.1\.2\.3 is not this machine[\s\S]*--allow-host 10\.1\.2\.3/,
  ],
  [
    'cavrin-live: 1\ndeeds: { suspend: { request: POST /x, form: { a: b }, json: { a: b } } }',
    'at: http://127.0.0.1:1',
    /a form or JSON, not both/,
  ],
] as const;

test.each(WRONG)('%s with %s is refused', async (head, at, said) => {
  place.put('live.yaml', `${head}\n${at}\n`);
  const { status, out, err } = await run();
  expect(err).toMatch(said);
  expect(err).toMatch(/live\.yaml:\d+:\d+/);
  expect([status, out]).toEqual([2, '']);
});

test('without a live.yaml it says how to come by one, and without a variable which one', async () => {
  const { err } = await run(['--config', 'other.yaml']);
  expect(err).toContain('there is no file other.yaml');
  expect((await live(place.folder, [])).err).toContain('the variable TOMAS_PASSWORD is not set');
  place.put('live.yaml', '');
  expect((await run()).err).toContain('the file is empty');
});

test('a first live.yaml is found out, is not written over, and is played by once the rest is said', async () => {
  const child = spawn(process.execPath, ['small-app.mjs'], {
    cwd: place.folder,
    env: { PATH: process.env['PATH'], ...SECRETS, PORT: String(port) },
  });
  await untilListening(port);
  const accounts = [
    '--account',
    'ines=ines@harbour.example:env:INES',
    'tomas=tomas@harbour.example:env:TOMAS_PASSWORD',
  ];
  const args = ['--learn', '--at', `http://127.0.0.1:${port}/app`, '--login', '/enter', ...accounts];
  const env = { INES: 'harbour-sand-12' };
  expect((await run(args, env)).err).toContain('live.yaml is there already');
  const { status, err } = await run([...args, '--output', 'first.yaml'], env);
  child.kill();
  expect([status, err]).toEqual([0, expect.stringContaining('✓ login: POST /enter')]);
  const first = readFileSync(join(place.folder, 'first.yaml'), 'utf8');
  expect(first).not.toMatch(/harbour-sand|pier-lantern/);
  const lines = first.split('\n').filter((line) => line !== '' && !line.startsWith('#'));
  expect(lines).toEqual([
    'cavrin-live: 1',
    `at: 'http://127.0.0.1:${port}/app'`,
    'accounts: # of the policy; passwords are only named',
    "  ines: { name: 'ines@harbour.example', password: env:INES }",
    "  tomas: { name: 'tomas@harbour.example', password: env:TOMAS_PASSWORD }",
    'login: { name: mail, password: secret }',
    "who: { element: 'p.who > b' }",
    'credentials:',
    '  session: [sid] # set by a login: sid until the browser closes, HttpOnly, SameSite lax',
    `logout: { link: 'a[href="/app/log-out"]' }`,
  ]);
  place.put('live.yaml', `${first}\nstart: { run: node small-app.mjs, env: { PORT: '{port}' } }\n`);
  while (await isListening(port)) await new Promise((go) => setTimeout(go, 20));
  expect((await run([], env)).out).toContain('the app does what the policy says');
  expect(existsSync(join(place.folder, 'first.yaml'))).toBe(true);
});

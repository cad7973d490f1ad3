import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { draftFormat } from '../../src/render/draft/draft-json';
import { found, freePort, whileRunning } from '../support/app-runs';
import { Workplace } from '../support/program';

const ROOT = join(__dirname, '..', '..');
const REAL = join(ROOT, 'examples', 'real');
const SUPPORT = join(__dirname, '..', 'support');
const KEYS = { ADA: 'a-1', BEN: 'b-2', CAL: 'c-3' };
const APPS = ['server-rendered', 'sealed', 'single-page'] as const;

/** What the run against the app is told besides: how it starts, and the passwords that nobody wrote down. */
function putLive(place: Workplace, name: string): void {
  const own = readFileSync(join(REAL, name, 'live.yaml'), 'utf8');
  const text = own
    .slice(0, own.includes('accepted:') ? own.indexOf('accepted:') : own.length)
    .replace('node app.mjs', `node ${join(REAL, name, 'app.mjs')}`)
    .replaceAll('../administer.mjs', join(REAL, 'administer.mjs'));
  const accounts =
    'accounts: { ada: { password: env:ADA }, ben: { password: env:BEN }, cal: { password: env:CAL } }';
  place.put('live.yaml', `${text}\n${accounts}\n`);
}

/** Everything in recordings that must not be written down: passwords, cookies, tokens and hidden fields. */
function secretsIn(place: Workplace, files: readonly string[]): string[] {
  const text = files.map((file) => place.read(file)).join('\n');
  const found = [
    ...[...text.matchAll(/"value": ?"(s%3A[^";]{20,}|Fe26[^";]{20,})/g)],
    ...[...text.matchAll(/Bearer ([\w.-]{20,})/g)],
    ...[...text.matchAll(/refresh_token\\":\\"([\w-]{20,})/g)],
    ...[...text.matchAll(/_csrf=([0-9a-f]{20,})/g)],
  ].map((match) => match[1] ?? '');
  return [...new Set([...found, ...Object.values(KEYS), 'not-this-one'])];
}

const writtenIn = (place: Workplace) =>
  ['cavrin.yaml', ...readdirSync(join(place.folder, 'walks')).map((name) => `walks/${name}`)]
    .map((name) => place.read(name))
    .join('\n');

/** Whether a text has a word; `ada-1` has no `a-1`. */
const hasWord = (text: string, word: string) =>
  new RegExp(`(?<![\\w-])${word.replace(/[.%+]/g, '\\$&')}(?![\\w-])`).test(text);

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

/** What two programs recorded in Chromium, and whom each page turns out to be for. */
const SEEN: Record<(typeof APPS)[number], readonly string[]> = {
  'server-rendered': [
    '/desk: { for: [for-desk], methods: [GET] }',
    '/loans: { for: signed-in, methods: [GET, POST], after-write: /loans }',
    '/safe: { for: [for-safe], methods: [GET] }',
    '/sign-in: { for: guests, methods: [GET] }',
    '- { role: for-safe, to: /safe }',
    '- { role: for-desk, to: /desk }',
    '- { otherwise: /catalogue }',
    'login: { page: /sign-in, submit: POST /sign-in, wrong: { shown: true, status: 401 }, return: { kept: session } }',
    'session: { idle: 30m, cookie: { name: library.sid, secure: false, life: 30m } }',
    'csrf: { token: per-session }',
  ],
  sealed: [
    '/desk: { for: [for-desk], methods: [GET] }',
    '/shelf/:id: { for: signed-in, methods: [GET] }',
    'login: { page: /sign-in, submit: POST /sign-in, wrong: /sign-in?wrong=yes, return: { param: next } }',
    'session: { absolute: 59m, renews: never, cookie: { name: __Host-desk, life: 59m } }',
  ],
  'single-page': [
    '/api/sign-out: { for: everyone, kind: api, methods: [POST], write-status: 204 }',
    '/shelf: { for: signed-in, methods: [GET], loads: [GET /api/loans], guard: browser }',
    'login: { page: /sign-in, submit: POST /api/sign-in, by: tokens, wrong: { status: 401 }, return: {} }',
    'logout: { submit: POST /api/sign-out, status: 204 }',
  ],
};

describe.each(APPS)('%s', (name) => {
  test('recorded in Chromium, it leads to a policy whose walks agree with it', async () => {
    await whileRunning(join(REAL, name, 'app.mjs'), (at) => {
      const script = join(SUPPORT, 'record.mjs');
      expect(spawnSync(process.execPath, [script, name, at, place.folder], { encoding: 'utf8' }).stderr).toBe(
        '',
      );
    });
    const people = ['guest', 'ada', 'ben', 'cal'];
    const named = (ending: string) => people.flatMap((each) => ['--har', `${each}=${each}${ending}`]);
    const { status, out, err } = place.run(['draft', ...named('.har'), '--format', 'json']);
    expect(err).toBe('');
    expect(status).toBe(0);
    const told = draftFormat.parse(JSON.parse(out));
    expect(told.otherwise).toEqual([]);
    expect(told.totals.walks).toBe(4);
    expect(told.totals.steps).toBeGreaterThan(25);
    const lines = place
      .read('cavrin.yaml')
      .split('\n')
      .map((line) => line.replace(/ # .*/, '').trim());
    expect(SEEN[name].filter((line) => !lines.includes(line))).toEqual([]);
    const written = writtenIn(place);
    const secrets = secretsIn(
      place,
      people.map((each) => `${each}.har`),
    );
    expect(secrets.length).toBeGreaterThan(6);
    expect(secrets.filter((secret) => hasWord(written, secret))).toEqual([]);
    // Each guess is a finding of its own until its comment is gone.
    const check = place.run(['check']).out;
    expect(check.match(/^warning guess-undecided/gm)).toHaveLength(told.guesses.length);
    place.put('cavrin.yaml', place.read('cavrin.yaml').replace(/ *# guess: .*/g, ''));
    expect(place.run(['check']).out).not.toContain('guess-undecided');
    // What script shows at /desk, and where it goes after ben's login and the logout, no recording tells: these guesses are decided.
    if (name === 'single-page') {
      const decided = place
        .read('cavrin.yaml')
        .replace('/api/sign-out, status', '/api/sign-out, lands: /sign-in, status')
        .replace('roles:\n', 'roles:\n  for-desk: []\n')
        .replace('{ password: ben-1 }', '{ password: ben-1, roles: [for-desk] }')
        .replace('/desk: { for: everyone', '/desk: { for: [for-desk]')
        .replace('landing:\n', 'landing:\n  - { role: for-desk, to: /desk }\n');
      place.put('cavrin.yaml', decided);
    }
    // It was recorded beside its proxy, which the recording cannot tell.
    if (name === 'sealed') {
      const origin = /^origin: .*$/m;
      const behind = 'origin: https://desk.example\nproxy: { ends-tls: true, trusted: true }';
      place.put('cavrin.yaml', place.read('cavrin.yaml').replace(origin, behind));
    }
    putLive(place, name);
    const live = await found(place.folder, ['--at', `http://127.0.0.1:${await freePort()}`], KEYS);
    expect(live.findings).toEqual([]);
    expect(live.totals.steps).toBe(told.totals.steps);
    // And a mistake in the app is found with it.
    const bug = await found(place.folder, ['--at', `http://127.0.0.1:${await freePort()}`], {
      ...KEYS,
      BUG: 'landing',
    });
    expect(bug.findings.map(({ class: kind }) => kind)).toContain('lands');
    // What another program wrote of the same says the same, but for what stands in bodies alone.
    const other = place.run(['draft', 'other', ...named('.other.har')]);
    expect(other.status).toBe(0);
    expect(other.out).toContain('! cal.other.har has no bodies');
    const first = place.read('cavrin.yaml');
    const apart = (text: string) =>
      text
        .split('\n')
        .filter((line) => !/^# A first|^origin:|^tokens:|^# guess: .*token/.test(line))
        .map((line) => line.replace(/ *# guess: .*/, ''));
    const again = apart(place.read('other/cavrin.yaml'));
    if (name !== 'single-page') {
      expect(again.filter((line) => line !== '' && !apart(first).includes(line))).toEqual([]);
    }
    // The policy that people wrote for the app has all that was seen, and says nothing else of it.
    const own = place.run(['draft', '--into', join(REAL, name, 'cavrin.yaml'), ...named('.har')]);
    expect(own.out).not.toMatch(/^(?:In the sources|Otherwise|Recorded)/m);
  }, 300_000);

  test('looked at while it runs, it leads to a policy whose walks agree with it', async () => {
    const run = await whileRunning(join(REAL, name, 'app.mjs'), (at) =>
      place.run(
        [
          'draft',
          '--at',
          at,
          '--login',
          '/sign-in',
          '--account',
          'ada:env:ADA',
          'ben:env:BEN',
          'cal:env:CAL',
          '--format',
          'json',
        ],
        { env: { ...KEYS, CHROMIUM: process.env['CHROMIUM'] ?? '' } },
      ),
    );
    expect(run.err).toBe('');
    expect(run.status).toBe(0);
    // What was recorded on the way lies nowhere any more.
    expect(readdirSync(tmpdir()).filter((name) => name.startsWith('cavrin-round-'))).toEqual([]);
    const told = draftFormat.parse(JSON.parse(run.out));
    expect([told.otherwise, told.notes]).toEqual([[], []]);
    expect(told.totals.steps).toBeGreaterThan(35);
    expect(Object.values(KEYS).filter((secret) => hasWord(writtenIn(place), secret))).toEqual([]);
    putLive(place, name);
    const { findings, totals } = await found(
      place.folder,
      ['--at', `http://127.0.0.1:${await freePort()}`],
      KEYS,
    );
    expect(findings).toEqual([]);
    expect(totals.steps).toBe(told.totals.steps);
  }, 300_000);
});

/** Descriptions that were published as examples, and what an app by express-openapi-validator that has only them to go by does. */
const DESCRIPTIONS = [
  '3.1/json/train-travel',
  '3.0/json/petstore-expanded',
  '3.0/json/link-example',
  '3.0/json/star-trek',
];

test.each(DESCRIPTIONS)(
  'the published description %s leads to a policy whose walks agree with an app that follows it',
  async (file) => {
    const description = require.resolve(`@readme/oas-examples/${file}.json`);
    expect(place.run(['draft', '--openapi', description]).status).toBe(0);
    expect(place.run(['coverage', '--propose', 'walks.yaml']).status).toBe(0);
    const hasKeys = place.read('cavrin.yaml').includes('machine-without-scopes');
    place.put(
      'live.yaml',
      [
        'cavrin-live: 1',
        'at: http://127.0.0.1:4100',
        `start: { run: 'node ${join(SUPPORT, 'described-app.mjs')} ${description}', env: { PORT: '{port}' } }`,
        ...(hasKeys
          ? ['accounts: { machine: { key: env:ALL }, machine-without-scopes: { key: env:NONE } }']
          : []),
      ].join('\n'),
    );
    const at = async () => ['--at', `http://127.0.0.1:${await freePort()}`, '--http'];
    const env = { ALL: 'all', NONE: 'none' };
    const { findings, totals } = await found(place.folder, await at(), env);
    expect(findings).toEqual([]);
    expect(totals.steps).toBeGreaterThan(4);
    if (!hasKeys) return;
    const careless = await found(place.folder, await at(), { ...env, BUG: 'scopes' });
    expect(careless.findings.map(({ class: kind }) => kind)).toContain('opens');
  },
  120_000,
);

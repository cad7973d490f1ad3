import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { found, freePort, live, untilListening } from '../support/app-runs';

const REAL = join(__dirname, '..', '..', 'examples', 'real');
const at = async () => ['--at', `http://127.0.0.1:${await freePort()}`];

/** What stays different, and is listed in docs/truth.md with its reason. */
const KNOWN: Record<string, readonly string[]> = {
  'server-rendered': ['OPTIONS /loans is refused with 404'],
  sealed: [],
  'single-page': ['what is refused as unknown-page is answered with 400, not with 200'],
};

describe.each(Object.entries(KNOWN))('%s', (name, known) => {
  const folder = join(REAL, name);

  test('does what its policy says, by requests and in Chromium', async () => {
    const { findings, walks, totals } = await found(folder, await at());
    expect(findings.filter(({ accepted }) => accepted === null)).toEqual([]);
    expect(findings.map(({ title }) => title)).toEqual(known);
    expect(totals.walks).toBeGreaterThanOrEqual(20);
    expect(walks.some(({ driver }) => driver === 'browser')).toBe(true);
    // Each step of each walk is played by one of the two.
    const played = new Map<string, number>();
    for (const walk of walks) played.set(walk.name, Math.max(played.get(walk.name) ?? 0, walk.played));
    expect(walks.filter((walk) => played.get(walk.name) !== walk.steps)).toEqual([]);
    process.stderr.write(
      `${name}: ${totals.steps} steps, ${known.length} differences, all listed in docs/truth.md\n`,
    );
  }, 300_000);

  test('comes out the same whether walks share the app or have it to themselves', async () => {
    const [together, alone] = [
      await found(folder, [...(await at()), '--http']),
      await found(folder, [...(await at()), '--http', '--one-by-one']),
    ];
    expect({ ...together, at: '', totals: null }).toEqual({ ...alone, at: '', totals: null });
    expect(together.totals.steps).toBe(alone.totals.steps);
  }, 300_000);
});

/** What is found out about each app by looking, line by line, and what is left to say. */
const LEARNT = {
  'server-rendered': [
    'login: { name: account, password: password, remember: remember }',
    'who: { header: x-seen-as }',
    'session: [library.sid]',
    'remember: [library.keep]',
    `logout: { form: 'form[action="/sign-out"]' }`,
  ],
  sealed: [
    'proxy: trusted',
    'login: { name: account, password: password }',
    'who: { header: x-seen-as }',
    'session: [__Host-desk]',
    `logout: { form: 'form[action="/sign-out"]' }`,
  ],
  'single-page': [
    'login: { sends: form, name: account, password: password }',
    'who: { element: main, attribute: data-seen-as }',
    "access: { storage: session, key: tokens, at: '/access_token', answer: '/access_token' }",
    "refresh: { storage: session, key: tokens, at: '/refresh_token', answer: '/refresh_token' }",
    `logout: { form: 'form[data-form="logout"]' }`,
  ],
} as const;

test.each(Object.entries(LEARNT))(
  '%s is found out by looking, and played by what was found',
  async (name, lines) => {
    const folder = join(REAL, name);
    const port = await freePort();
    const place = mkdtempSync(join(tmpdir(), 'cavrin-learn-'));
    const file = join(place, 'live.yaml');
    const app = spawn(process.execPath, ['app.mjs'], {
      cwd: folder,
      env: { PATH: process.env['PATH'], PORT: String(port) },
    });
    try {
      await untilListening(port);
      const { status } = await live(folder, [
        '--learn',
        '--at',
        `http://127.0.0.1:${port}`,
        '--login',
        '/sign-in',
        '--output',
        file,
      ]);
      expect(status).toBe(0);
    } finally {
      app.kill();
    }
    const first = readFileSync(file, 'utf8');
    const written = first.split('\n').map((line) => line.replace(/ # .*/, '').trim());
    expect(lines.filter((line) => !written.includes(line))).toEqual([]);
    // Of what the app's own live.yaml says only the start, the clock, the deeds and what is accepted are left to say.
    const own = readFileSync(join(folder, 'live.yaml'), 'utf8');
    const left = own.slice(own.indexOf('clock:'));
    const run = `start: { run: 'node ${join(folder, 'app.mjs')}', env: { PORT: '{port}' } }`;
    writeFileSync(
      file,
      `${first}\n${run}\n${left.replaceAll('../administer.mjs', join(REAL, 'administer.mjs'))}`,
    );
    const how = name === 'single-page' ? ['--only', 'Each lands'] : [];
    const { findings, totals } = await found(folder, [...(await at()), '--config', file, ...how]);
    rmSync(place, { recursive: true });
    expect(findings.filter(({ accepted }) => accepted === null)).toEqual([]);
    expect(totals.steps).toBeGreaterThan(4);
    process.stderr.write(
      `${name}: ${lines.length} of ${lines.length} lines of live.yaml found out by looking\n`,
    );
  },
  300_000,
);

/** Mistakes that are switched on in the apps, and what is found: its class, its name and what would describe it. */
const BUGS = [
  [
    'server-rendered',
    'landing',
    'lands',
    'visit /sign-in leads to /catalogue, not to /desk',
    'refusals.guests-only: /catalogue',
  ],
  ['server-rendered', 'submit', 'opens', 'POST /loans/:id is open', 'pages./loans/:id.write: signed-in'],
  ['server-rendered', 'slide', 'holds', 'session is missing after wait', 'session.renews: never'],
  ['server-rendered', 'return', 'lands', 'login leads to another site, not to /catalogue', null],
  ['server-rendered', 'logout', 'opens', 'lets through what is refused as signed-out', 'logout.ends: []'],
  ['server-rendered', 'acting', 'opens', 'GET /loans/:id is open', null],
  [
    'sealed',
    'landing',
    'lands',
    'visit /sign-in leads to /shelf, not to /desk',
    'refusals.guests-only: /shelf',
  ],
  ['sealed', 'submit', 'opens', 'POST /shelf is open', 'pages./shelf.write: everyone'],
  ['sealed', 'slide', 'opens', 'a login lasts longer than it should', null],
  [
    'sealed',
    'return',
    'lands',
    'login leads to another site, not to /shelf',
    'login.return.accept: anything',
  ],
  ['sealed', 'logout', 'opens', 'a login outlives a step logout', 'logout.clears: []'],
  [
    'single-page',
    'landing',
    'lands',
    'visit /sign-in leads to /shelf, not to /desk',
    'refusals.guests-only: /shelf',
  ],
  [
    'single-page',
    'submit',
    'opens',
    'DELETE /api/loans/:id is open',
    'pages./api/loans/:id.write: signed-in',
  ],
  ['single-page', 'slide', 'holds', 'a login ends with a wait', null],
  [
    'single-page',
    'return',
    'lands',
    'login leads to another site, not to /shelf',
    'login.return.accept: anything',
  ],
  ['single-page', 'logout', 'opens', 'lets through what is refused as refresh-revoked', 'logout.ends: []'],
] as const;

test.each(BUGS)(
  '%s with the mistake %s: one finding, %s',
  async (name, bug, kind, title, written) => {
    // What the server gets wrong shows without a browser too.
    const how = name === 'single-page' && bug !== 'landing' && bug !== 'return' ? ['--http'] : [];
    const { findings } = await found(join(REAL, name), [...(await at()), ...how], { BUG: bug });
    const told = findings.filter(({ accepted }) => accepted === null);
    expect(told.map((each) => [each.class, each.title, each.describedBy])).toEqual([[kind, title, written]]);
  },
  300_000,
);

test.each([
  ['harbour', 60],
  ['fennel-row', 20],
])(
  'the stand-in of the example %s differs in nothing, a fourth app',
  async (name, most) => {
    const { findings, totals } = await found(join(REAL, '..', name), [...(await at()), '--http']);
    expect(findings).toEqual([]);
    expect(totals.walks).toBeGreaterThan(most);
  },
  300_000,
);

test('what moves the clock of an app refuses to be loaded by itself, and tells the time of its file', () => {
  const preload = join(REAL, '..', '..', 'dist', 'moved-date.cjs');
  const run = (env: Record<string, string>) =>
    spawnSync(
      process.execPath,
      [
        '--require',
        preload,
        '-p',
        'JSON.stringify([Date.now(), new Date().toISOString(), new Date(0).getTime(), new Date() instanceof Date, Date().slice(11, 15)])',
      ],
      { env: { PATH: process.env['PATH'] ?? '', TZ: 'UTC', ...env }, encoding: 'utf8' },
    );
  const alone = run({});
  expect([alone.status, alone.stderr]).toEqual([1, expect.stringContaining('CAVRIN_CLOCK')]);
  const place = mkdtempSync(join(tmpdir(), 'cavrin-clock-'));
  writeFileSync(join(place, 'clock'), String(Date.UTC(2031, 4, 6)).padStart(16, '0'));
  const { stdout } = run({ CAVRIN_CLOCK: join(place, 'clock') });
  rmSync(place, { recursive: true });
  expect(JSON.parse(stdout)).toEqual([Date.UTC(2031, 4, 6), '2031-05-06T00:00:00.000Z', 0, true, '2031']);
});

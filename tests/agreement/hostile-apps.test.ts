import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, untilListening } from '../support/app-runs';
import { startListening, type Listeners } from '../support/hostile/listeners';
import { PROGRAM, Workplace, type Run } from '../support/program';

const APP = join(__dirname, '../support/hostile/app.mjs');
const PASSWORDS = { INES: 'gull-29-feather', TOMAS: 'buoy-81-lantern' };
const ACCOUNTS = ['--patience', '2', '--account', 'ines:env:INES', '--account', 'tomas:env:TOMAS'];

const POLICY = `
cavrin: 1
app: Hostile
origin: https://hostile.example
roles: { clerk: [] }
accounts: { ines: { password: gull-29-feather, roles: [clerk] }, tomas: { password: buoy-81-lantern, roles: [clerk] } }
pages: { /: { for: everyone }, /enter: { for: guests }, /desk: { for: signed-in } }
login: { page: /enter, submit: POST /enter, fields: { account: email, password: password }, attempts: { most: 5, within: 15m, pause: 15m } }
landing: [{ otherwise: /desk }]
logout: { submit: POST /leave, lands: / }
session: { idle: 1h, absolute: 8h }
walks: [{ name: In and at the desk, steps: [{ login: ines, lands: /desk }, { visit: /desk, status: 200 }] }]
`;

/** Pages that do harm to whoever looks at them, each visited by a walk of its own. */
const HARMFUL = ['/stream', '/never', '/closes', '/links', '/fields', '/loop', '/deep', '/again', '/garbled'];
const HARMED = POLICY.replace(/walks: .*/, '').replace(
  '/desk:',
  `${HARMFUL.map((page) => `${page}: { for: everyone }, `).join('')}/desk:`,
);
const HARMED_WALKS = `walks:\n${HARMFUL.map((page) => `  - { name: ${page.slice(1)}, steps: [{ visit: ${page}, lands: ${page} }, { visit: /, lands: / }] }`).join('\n')}\n`;

const liveYaml = (at: string) => `
cavrin-live: 1
at: ${at}
who: { element: .who }
accounts: { ines: { password: env:INES }, tomas: { password: env:TOMAS } }
credentials: { session: sid }
`;

const COMMANDS = {
  draft: (at: string) => ['draft', 'drafted', '--at', at, '--login', '/enter', ...ACCOUNTS],
  learn: (at: string) => [
    'live',
    '--learn',
    '--at',
    at,
    '--login',
    '/enter',
    '--output',
    'learnt.yaml',
    ...ACCOUNTS,
  ],
  live: () => ['live', '--browser'],
  'live in Chromium': () => ['live', '--browser', '--patience', '6', 'cavrin.yaml', 'harmed.yaml'],
  'live by requests': () => ['live', '--http', '--patience', '6', 'cavrin.yaml', 'harmed.yaml'],
} as const;

let running: ChildProcess | null = null;
let listeners: Listeners;

beforeEach(async () => {
  listeners = await startListening();
});
afterEach(() => {
  running?.kill('SIGKILL');
  listeners.stop();
});

/** Runs a command on the hostile app in one of its moods, until a signal ends it. */
async function on(
  mood: string,
  command: keyof typeof COMMANDS,
  signal: NodeJS.Signals | null = null,
): Promise<Run & { readonly left: readonly string[] }> {
  const port = await freePort();
  const at = `http://127.0.0.1:${port}`;
  const env = { PATH: process.env['PATH'], PORT: String(port), MOOD: mood, ...PASSWORDS };
  running = spawn(process.execPath, [APP], {
    env: { ...env, TCP: String(listeners.tcp), UDP: String(listeners.udp) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await untilListening(port);
  const workplace = new Workplace();
  const temporary = mkdtempSync(join(tmpdir(), 'cavrin-own-'));
  workplace.put('cavrin.yaml', command.startsWith('live ') ? HARMED : POLICY);
  workplace.put('harmed.yaml', HARMED_WALKS);
  workplace.put('live.yaml', liveYaml(at));
  try {
    const child = spawn(process.execPath, [PROGRAM, ...COMMANDS[command](at)], {
      cwd: workplace.folder,
      env: {
        PATH: process.env['PATH'],
        CHROMIUM: process.env['CHROMIUM'],
        TMPDIR: temporary,
        HOME: workplace.folder,
        ...PASSWORDS,
      },
    });
    const texts = { out: '', err: '' };
    child.stdout.on('data', (part: Buffer) => (texts.out += part.toString()));
    child.stderr.on('data', (part: Buffer) => (texts.err += part.toString()));
    // By then it is in the middle of looking.
    running.stdout?.once('data', () => setTimeout(() => signal !== null && child.kill(signal), 1_500));
    const status = await new Promise<number | null>((ended) => child.on('exit', ended));
    return { ...texts, status, left: readdirSync(temporary) };
  } finally {
    workplace.remove();
    rmSync(temporary, { recursive: true });
  }
}

const said = ({ out, err }: Run) => out + err;

describe.each(['draft', 'learn', 'live'] as const)('%s in Chromium', (command) => {
  test('asks nobody but the app, and says who was asked for', async () => {
    const run = await on('asks elsewhere', command);
    expect(said(run)).toContain(`127.0.0.1:${listeners.tcp}`);
    expect(listeners.came).toEqual([]);
    expect(said(run)).not.toMatch(/gull-29-feather|buoy-81-lantern/);
  }, 180_000);

  test('tells of a password field that cannot be written to, and prints no password', async () => {
    const run = await on('readonly', command);
    expect(said(run)).toContain('the field for the password on /enter cannot be written to');
    expect(said(run)).not.toMatch(/gull-29-feather|buoy-81-lantern|fault of its own/);
  }, 180_000);

  test('fills in a field that can be written to once it is clicked', async () => {
    const run = await on('focus', command);
    expect(said(run)).not.toMatch(/cannot be written to|did not get in/);
    if (command === 'live') expect(run.status).toBe(0);
  }, 180_000);
});

test.each([['plain'], ['drawn']])(
  'one bad page does not end a draft, which tells of it and goes on (%s login)',
  async (mood) => {
    const run = await on(mood, 'draft');
    const drafted = said(run);
    for (const page of ['/stream', '/never', '/closes', '/fields', ...(mood === 'plain' ? [] : ['/loop'])]) {
      expect(drafted).toContain(`not looked at: ${page}: `);
    }
    if (mood === 'plain') expect(drafted).toContain('/links has 50000 links');
    expect(run.status).toBe(0);
  },
  300_000,
);

test.each(['live by requests', 'live in Chromium'] as const)(
  '%s tells what does not answer, and no more than that',
  async (command) => {
    const run = await on('plain', command);
    const without = (page: string, reason: string) => `refuses more: visit ${page}: ${reason}`;
    expect(said(run)).toContain(without('/never', 'no answer to GET /never within 6s'));
    expect(said(run)).toContain(without('/closes', 'the app closed the connection without an answer'));
    expect(said(run)).toContain(
      command === 'live by requests'
        ? without('/stream', 'no end of the answer to GET /stream within 6s')
        : 'not played: ',
    );
    if (command === 'live in Chromium') {
      expect(said(run)).toContain(without('/garbled', 'the answer of the app cannot be read'));
    }
    // Of one that goes elsewhere by itself it depends on the moment what comes of the next address.
    expect(said(run)).not.toMatch(/fault of its own|visit \/(?:deep|fields|links):/);
    expect([run.status, run.left]).toEqual([1, []]);
  },
  180_000,
);

test.each([
  ['draft', 'SIGTERM', 'drawn'],
  ['draft', 'SIGHUP', 'plain'],
  ['draft', 'SIGINT', 'drawn'],
  ['learn', 'SIGTERM', 'drawn'],
  ['live', 'SIGHUP', 'drawn'],
] as const)(
  '%s ends by %s, and leaves nothing behind (%s login)',
  async (command, signal, mood) => {
    const run = await on(mood, command, signal);
    expect(run.status).toBe(3);
    expect(run.err).toContain('interrupted');
    expect(run.left).toEqual([]);
  },
  60_000,
);

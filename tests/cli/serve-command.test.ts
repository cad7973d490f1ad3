import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let place: Workplace;
let running: ChildProcess | null = null;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  running?.kill('SIGKILL');
  place.remove();
});

/** `cavrin serve` at work, with what it has said so far. */
class Serving {
  out = '';
  err = '';
  readonly ended: Promise<number | null>;

  constructor(args: readonly string[]) {
    const env = { PATH: process.env['PATH'] };
    const program = spawn(process.execPath, [PROGRAM, 'serve', ...args], { cwd: place.folder, env });
    running = program;
    program.stdout.on('data', (part: Buffer) => (this.out += part.toString()));
    program.stderr.on('data', (part: Buffer) => (this.err += part.toString()));
    this.ended = new Promise((settle) => program.on('exit', settle));
  }

  async until(met: () => boolean): Promise<void> {
    for (let tries = 0; !met() && tries < 1600; tries++) await new Promise((go) => setTimeout(go, 25));
    expect(met()).toBe(true);
  }

  async address(): Promise<string> {
    await this.until(() => this.out.includes('\n'));
    return this.out.trim();
  }
}

test('gives its address on standard output and a line for each request on standard error', async () => {
  place.put('cavrin.yaml', policyText());
  const serving = new Serving([]);
  const address = await serving.address();
  expect(address).toMatch(/^http:\/\/127\.0\.0\.1:\d+$/);
  const answer = await fetch(`${address}/desk`, { redirect: 'manual' });
  expect([answer.status, answer.headers.get('location')]).toEqual([302, '/in?back=/desk']);
  await serving.until(() => serving.err.includes('guest (line'));
  expect(serving.err).toMatch(
    /^Test, steered at http:\S+\/-\/ or with the secret \S{22}\n +0s GET \/desk 302 → \/in\?back=\/desk · guest · guest \(line 6\)\n$/,
  );
  for (const file of ['style.css', 'page.js', 'icon.svg']) {
    expect((await fetch(`${address}/-/${file}`)).status).toBe(200);
  }
});

test('a control character in the name of the app does nothing to the terminal', async () => {
  place.put('cavrin.yaml', policyText().replace('app: Test', 'app: "Te\\e[2Jst"'));
  const serving = new Serving(['--quiet']);
  await serving.address();
  expect(serving.err).toContain('Te\\u{1b}[2Jst, steered at');
  expect(serving.err).not.toContain('\u001b');
});

test.each(['SIGINT', 'SIGTERM', 'SIGHUP'] as const)(
  '%s ends it cleanly, also while a connection is open',
  async (signal) => {
    place.put('cavrin.yaml', policyText());
    const serving = new Serving(['--quiet']);
    await fetch(await serving.address());
    expect(serving.err.split('\n')).toHaveLength(2);
    running?.kill(signal);
    expect(await serving.ended).toBe(0);
  },
);

test('goes on when nobody reads its log any more', async () => {
  place.put('cavrin.yaml', policyText());
  const serving = new Serving([]);
  const address = await serving.address();
  running?.stderr?.destroy();
  running?.stdout?.destroy();
  for (let times = 0; times < 5; times++) expect((await fetch(address)).status).toBe(200);
  running?.kill('SIGINT');
  expect(await serving.ended).toBe(0);
});

test('with --clock virtual time stands still', async () => {
  place.put('cavrin.yaml', policyText());
  const address = await new Serving(['--clock', 'virtual']).address();
  const answer = await fetch(`${address}/-/now`);
  expect(await answer.json()).toEqual({ now: 0, clock: 'virtual' });
});

test('warns where it listens beyond loopback, and answers to network addresses there', async () => {
  place.put('cavrin.yaml', policyText());
  const serving = new Serving(['--host', '0.0.0.0']);
  const { port } = new URL(await serving.address());
  expect(serving.err).toContain('warning: 0.0.0.0 is no loopback address');
  expect((await fetch(`http://127.0.0.1:${port}/`)).status).toBe(200);
});

describe('what cannot be served ends with status 2', () => {
  test('a port that is taken', async () => {
    place.put('cavrin.yaml', policyText());
    const other = createServer();
    await new Promise<void>((listening) => other.listen(0, '127.0.0.1', listening));
    const { port } = other.address() as AddressInfo;
    const { status, out, err } = place.run(['serve', '--port', String(port)]);
    other.close();
    expect([status, out]).toEqual([2, '']);
    expect(err).toBe(
      `error: port ${port} is taken: name another with --port, or leave it out for a free one\n`,
    );
  });

  test.each([
    ['a port that is none', ['--port', '70000'], /give a number from 0 to 65535/],
    ['an address of another machine', ['--host', '192.0.2.1'], /192\.0\.2\.1 is no address of this machine/],
    ['no address', ['--host', ' '], /name an address, or leave the option out/],
    ['a clock that there is not', ['--clock', 'broken'], /Allowed choices are virtual, real/],
    ['a policy that there is not', ['other.yaml'], /there is no file other\.yaml/],
  ])('%s', (_what, args, words) => {
    place.put('cavrin.yaml', policyText());
    const { status, out, err } = place.run(['serve', ...args]);
    expect([status, out]).toEqual([2, '']);
    expect(err).toMatch(words);
  });

  test('a policy with errors, each with its line', () => {
    place.put('cavrin.yaml', `${policyText()}\ncolour: red`);
    const { status, err } = place.run(['serve']);
    expect(status).toBe(2);
    expect(err).toContain('cavrin.yaml:13:1');
  });
});

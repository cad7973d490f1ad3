import { spawn } from 'node:child_process';
import { readFileSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

/** Starts the program with `--watch`; `until` waits for what it prints. */
function started(args: readonly string[]) {
  const env = { PATH: process.env['PATH'], NO_COLOR: '1' };
  const program = spawn(process.execPath, [PROGRAM, ...args, '--watch'], { cwd: place.folder, env });
  const said = { out: '', err: '' };
  program.stdout.on('data', (chunk: Buffer) => (said.out += chunk.toString()));
  program.stderr.on('data', (chunk: Buffer) => (said.err += chunk.toString()));
  /** Waits until so many runs are over and what is looked for has been printed. */
  const runs = async (many: number, text = '') => {
    const isDone = () => said.err.split('watching').length > many && `${said.out}${said.err}`.includes(text);
    for (let tries = 0; !isDone() && tries < 800; tries++) await new Promise((go) => setTimeout(go, 50));
    if (!isDone()) throw new Error(`not seen: ${text} in ${JSON.stringify(said)}`);
  };
  const interrupted = async (signal: NodeJS.Signals = 'SIGINT') => {
    const ended = new Promise((settle) => program.on('exit', settle));
    program.kill(signal);
    return ended;
  };
  return { runs, interrupted };
}

const walk = (of: string) => `walks:\n  - name: ${of}\n    steps: [visit: /]\n`;

test.each(['SIGINT', 'SIGTERM', 'SIGHUP'] as const)(
  '--watch runs again after a change, and %s ends it with the last status',
  async (signal) => {
    place.put('cavrin.yaml', policyText());
    const { runs, interrupted } = started(['check']);
    await runs(1, '5 pages, 0 rules, 0 walks: nothing to report\n');
    place.put('cavrin.yaml', policyText({ session: null }));
    await runs(2, 'session-without-limit');
    expect(await interrupted(signal)).toBe(1);
  },
);

test('--watch goes on when files vanish and come back, and sees folders that are new', async () => {
  place.put('cavrin.yaml', policyText());
  const { runs, interrupted } = started(['walk']);
  await runs(1);
  rmSync(join(place.folder, 'cavrin.yaml'));
  await runs(2, 'no cavrin.yaml');
  place.put('cavrin.yaml', policyText());
  await runs(3);
  place.put('walks/deep/a.yaml', walk('first'));
  await runs(4, 'first');
  place.put('walks/deep/a.yaml', walk('changed'));
  await runs(5, 'changed');
  rmSync(join(place.folder, 'walks'), { recursive: true });
  await runs(6);
  place.put('walks/b.yaml', walk('second'));
  await runs(7, 'second');
  await interrupted();
});

test('--watch waits for a folder that is gone, and watches it again once it is there', async () => {
  place.put('there/cavrin.yaml', policyText());
  const { runs, interrupted } = started(['check', 'there/cavrin.yaml']);
  await runs(1);
  renameSync(join(place.folder, 'there'), join(place.folder, 'elsewhere'));
  await runs(2, 'no file there/cavrin.yaml');
  await new Promise((go) => setTimeout(go, 1_000));
  renameSync(join(place.folder, 'elsewhere'), join(place.folder, 'there'));
  await runs(3);
  place.put('there/cavrin.yaml', policyText({ session: null }));
  await runs(4, 'session-without-limit');
  expect(await interrupted()).toBe(1);
});

test('--watch of a proof works out only what a change touches, and keeps what it knows without any folder', async () => {
  place.put('cavrin.yaml', policyText());
  const { runs, interrupted } = started(['prove', '--quiet', '--no-cache']);
  await runs(1, 'hold');
  // Two of the three accounts are still as they were; the scene of one person with every account is not.
  place.put('cavrin.yaml', policyText().replace('b-2', 'b-3'));
  await runs(2, ' of them known before');
  place.put('cavrin.yaml', policyText());
  await runs(3, 'all of them known before');
  expect(await interrupted()).toBe(0);
}, 120_000);

test('an interrupt in the middle of a watched proof tells what was settled by then', async () => {
  place.put('cavrin.yaml', readFileSync(join(__dirname, '../../examples/harbour/cavrin.yaml')));
  const { runs, interrupted } = started([
    'prove',
    '--no-cache',
    '--browsers',
    '2',
    '--thief',
    '--administrator',
  ]);
  await new Promise((go) => setTimeout(go, 3_000));
  expect(await interrupted()).toBe(3);
  await runs(1, 'it was interrupted');
}, 60_000);

test('--watch refuses standard input', () => {
  const { status, err } = place.run(['check', '-', '--watch'], { input: policyText() });
  expect({ status, err }).toEqual({
    status: 2,
    err: 'cavrin: --watch cannot watch standard input: name the file instead of -\n',
  });
});

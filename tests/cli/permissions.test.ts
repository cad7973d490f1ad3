import { spawn, spawnSync } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PROGRAM } from '../support/program';
import { SOUND } from '../support/small-proofs';

/** Nobody, who may do only what everybody may: for the super-user there is no folder that is closed. */
const NOBODY = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};

let folder: string;
let program: string;
beforeAll(() => {
  const copy = mkdtempSync(join(tmpdir(), 'cavrin-program-'));
  for (const part of ['dist', 'examples', 'package.json']) {
    cpSync(join(PROGRAM, '../..', part), join(copy, part), { recursive: true });
  }
  chmodSync(copy, 0o755);
  program = join(copy, 'dist/cavrin.cjs');
});
afterAll(() => {
  rmSync(join(program, '../..'), { recursive: true });
});

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'cavrin-'));
  mkdirSync(join(folder, 'walks/deep'), { recursive: true });
  mkdirSync(join(folder, 'other'));
  writeFileSync(join(folder, 'cavrin.yaml'), SOUND);
  writeFileSync(join(folder, 'walks/deep/a.yaml'), 'walks: [{ name: A, steps: [{ visit: /desk }] }]\n');
  writeFileSync(join(folder, 'live.yaml'), 'cavrin-live: 1\nat: http://127.0.0.1:1\n');
  const { uid, gid } = NOBODY;
  if (uid === undefined) return;
  for (const each of ['', ...readdirSync(folder, { recursive: true, encoding: 'utf8' })]) {
    chownSync(join(folder, each), uid, gid);
  }
});
afterEach(() => {
  for (const each of ['', 'walks', 'walks/deep', 'other']) chmodSync(join(folder, each), 0o755);
  rmSync(folder, { recursive: true });
});

function run(args: readonly string[]) {
  const env = { PATH: process.env['PATH'], HOME: join(folder, 'other') };
  const options = { cwd: folder, env, encoding: 'utf8', input: '', timeout: 60_000, ...NOBODY } as const;
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args], options);
  return { status, said: stdout + stderr };
}

/** What may be done with each folder or file: nothing, listing it only, going through it only, or no writing. */
const CLOSED = [
  ...['.', 'walks', 'walks/deep'].flatMap((name) =>
    [0o000, 0o444, 0o111].map((mode) => [name, mode] as const),
  ),
  ...['cavrin.yaml', 'walks/deep/a.yaml', 'live.yaml'].map((name) => [name, 0o000] as const),
];
const WITH_WALKS: readonly (readonly string[])[] = [['check'], ['walk'], ['coverage']];
const READING = [...WITH_WALKS, ['grid'], ['why', 'GET /desk', '--as', 'ann'], ['prove', '--no-cache']];

test.each(CLOSED)(
  '%s with permissions %i is told by whatever reads it',
  (name, mode) => {
    chmodSync(join(folder, name), mode);
    const commands = name === 'live.yaml' ? [['live']] : name.startsWith('walks') ? WITH_WALKS : READING;
    for (const args of commands) {
      const { status, said } = run(args);
      expect([args[0], said]).not.toEqual([args[0], expect.stringMatching(/fault of its own|^\s+at /m)]);
      // Going through a folder is enough for what is named, but not to look for walks.
      const told = [args[0], 2, expect.stringMatching(/permission is denied|no cavrin.yaml/)];
      if (mode !== 0o111 || WITH_WALKS.includes(args)) expect([args[0], status, said]).toEqual(told);
    }
  },
  120_000,
);

test.each([
  [['grid', '--output', 'other/grid.txt']],
  [['init', 'other/fresh']],
  [['draft', 'other/fresh', '--routes', 'routes.txt']],
  [['prove', '--cache', 'other/kept']],
])('a folder that nobody may write to is told: %j', (args) => {
  writeFileSync(join(folder, 'routes.txt'), 'GET /desk\n');
  chmodSync(join(folder, 'other'), 0o555);
  expect(run(args)).toEqual({
    status: 2,
    said: expect.stringMatching(/^cavrin: cannot write other\/.*permission/) as string,
  });
  expect(readdirSync(join(folder, 'other'))).toEqual([]);
});

test('a proof goes on without a cache where its usual folder cannot be made', () => {
  chmodSync(join(folder, 'other'), 0o555);
  expect(run(['prove']).status).toBe(0);
});

test('--watch goes on where a folder cannot be watched', async () => {
  mkdirSync(join(folder, 'walks/shut'), { mode: 0o000 });
  const env = { PATH: process.env['PATH'] };
  const child = spawn(process.execPath, [program, 'walk', '--watch'], { cwd: folder, env, ...NOBODY });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream.on('data', (part: Buffer) => (said += part.toString()));
  }
  const ended = new Promise((settle) => child.on('exit', settle));
  const until = async (text: string) => {
    for (let tries = 0; !said.includes(text) && tries < 800; tries++) {
      await new Promise((go) => setTimeout(go, 50));
    }
    expect(said).toContain(text);
  };
  await until('walks/shut cannot be watched: permission is denied (EACCES); changes there are not seen');
  await until('watching for changes');
  rmSync(join(folder, 'walks/shut'), { recursive: true });
  await until('1 walk, 1 step');
  child.kill('SIGINT');
  expect(await ended).toBe(0);
}, 120_000);

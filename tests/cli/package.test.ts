import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The package as it is published, installed in an empty folder without a network. */
const folder = mkdtempSync(join(tmpdir(), 'cavrin-package-'));
const ROOT = join(__dirname, '../..');
const BIN = join(folder, 'node_modules/.bin/cavrin');

function run(command: string, args: readonly string[], cwd = folder) {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd, encoding: 'utf8' });
  return { status, out: stdout, err: stderr };
}

beforeAll(() => {
  const packed = run('npm', ['pack', '--ignore-scripts', '--pack-destination', folder], ROOT);
  const archive = readdirSync(folder).find((name) => name.endsWith('.tgz'));
  if (archive === undefined) throw new Error(packed.err);
  const installed = run('npm', ['install', '--offline', '--no-audit', '--no-fund', `./${archive}`]);
  if (installed.status !== 0) throw new Error(installed.err);
  expect(installed.err).not.toContain('EBADENGINE');
}, 120_000);

afterAll(() => {
  rmSync(folder, { recursive: true });
});

test('is itself and nothing else, with the licences of what is bundled in it', () => {
  expect(readdirSync(join(folder, 'node_modules')).filter((name) => !name.startsWith('.'))).toEqual([
    'cavrin',
  ]);
  const licences = readFileSync(join(folder, 'node_modules/cavrin/dist/LICENSES.txt'), 'utf8');
  for (const name of ['commander', 'zod', 'yaml', 'fastify', 'jose', 'refa']) {
    expect(licences).toMatch(new RegExp(`^${name} \\d`, 'm'));
  }
});

test('runs demo, init, check, walk and prove', () => {
  expect(run(BIN, ['demo']).out).toContain('all as expected');
  expect(run(BIN, ['init']).status).toBe(0);
  expect(existsSync(join(folder, 'cavrin.yaml'))).toBe(true);
  expect(run(BIN, ['check'])).toMatchObject({ status: 0, err: '' });
  expect(run(BIN, ['walk']).out).toContain('all as expected');
  expect(run(BIN, ['prove', '--quiet'])).toMatchObject({ status: 0 });
}, 60_000);

test('serves', async () => {
  const server = spawn(BIN, ['serve', '--port', '0'], { cwd: folder });
  const [address] = (await once(server.stdout, 'data')) as [Buffer];
  const answer = await fetch(String(address).trim());
  expect(answer.status).toBe(200);
  server.kill('SIGTERM');
  expect(await once(server, 'exit')).toEqual([0, null]);
}, 30_000);

test('is a library', () => {
  const script = "import('cavrin').then((library) => console.log(typeof library.readProject))";
  expect(run(process.execPath, ['--input-type=module', '-e', script]).out).toBe('function\n');
});

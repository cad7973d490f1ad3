import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
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

describe('is a library, of which the page shows three uses', () => {
  const page = readFileSync(join(ROOT, 'docs/library.md'), 'utf8');
  const example = (name: string): string =>
    page.match(new RegExp(`\`\`\`js ${name}\n([^]*?)\`\`\``))?.[1] ?? '';
  const use = join(folder, 'use');

  beforeAll(() => {
    mkdirSync(join(use, 'walks'), { recursive: true });
    copyFileSync(join(ROOT, 'examples/harbour/cavrin.yaml'), join(use, 'cavrin.yaml'));
    copyFileSync(join(ROOT, 'examples/harbour/walks/1-login.yaml'), join(use, 'walks/logins.yaml'));
  });

  test('in a test suite', () => {
    writeFileSync(join(use, 'policy.test.js'), example('test'));
    const jest = join(ROOT, 'node_modules/jest/bin/jest.js');
    const { status, err } = run(process.execPath, [jest, '--rootDir', use, '--config', '{}'], use);
    expect(err).toContain('Tests:       3 passed, 3 total');
    expect(status).toBe(0);
  });

  test('in a server', async () => {
    writeFileSync(join(use, 'server.mjs'), example('server'));
    const server = spawn(process.execPath, ['server.mjs'], { cwd: use });
    const [port] = (await once(server.stdout, 'data')) as [Buffer];
    const ask = async (path: string, account?: string) =>
      (
        await fetch(`http://127.0.0.1:${String(port).trim()}${path}`, {
          headers: account === undefined ? {} : { 'x-account': account },
        })
      ).status;
    expect(await Promise.all([ask('/ledger', 'petra'), ask('/office', 'petra'), ask('/ledger')])).toEqual([
      200, 403, 401,
    ]);
    server.kill('SIGTERM');
    await once(server, 'exit');
  });

  test('in a script', () => {
    writeFileSync(join(use, 'told.mjs'), example('script'));
    const { out, err } = run(process.execPath, ['told.mjs'], use);
    expect([out.split('\n'), err]).toEqual([
      [
        'petra, after an hour away: /sign-in?back=/ledger (idle-expired)',
        'after the logout a copied access token works for 305 s',
        '',
      ],
      '',
    ]);
    writeFileSync(join(use, 'cavrin.yaml'), 'cavrin: 1\napp: Test\norigin: harbour\n');
    const broken = run(process.execPath, ['told.mjs'], use);
    expect([broken.status, broken.err]).toEqual([2, expect.stringMatching(/^3: /)]);
  }, 120_000);
});

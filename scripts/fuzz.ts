// Runs the fuzzer: `npm run fuzz`, or `npm run fuzz -- --seconds 1200 --seed 7`. The seed is random unless given, and printed.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { build } from 'esbuild';

const { values } = parseArgs({
  options: {
    seconds: { type: 'string', default: '20' },
    seed: { type: 'string', default: String(Math.floor(Math.random() * 2 ** 32)) },
  },
});
const folder = mkdtempSync(join(tmpdir(), 'cavrin-fuzz-'));
try {
  // The language server is tried as it is built.
  if (!existsSync('dist/cavrin.cjs')) spawnSync('npm', ['run', 'build'], { stdio: 'inherit' });
  const outfile = join(folder, 'fuzz.cjs');
  await build({
    entryPoints: ['tests/fuzz/main.ts'],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    logLevel: 'warning',
    define: { CAVRIN_VERSION: '"0"' },
  });
  const { status } = spawnSync(
    process.execPath,
    [outfile, resolve('examples'), resolve('dist/cavrin.cjs'), values.seconds, values.seed],
    {
      stdio: 'inherit',
    },
  );
  process.exitCode = status ?? 1;
} finally {
  rmSync(folder, { recursive: true });
}

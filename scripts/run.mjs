// Runs a TypeScript file of this folder or of bench/: node scripts/run.mjs bench/run.ts. Node 20 takes no TypeScript itself.
import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { build } from 'esbuild';

const [file = '', ...args] = process.argv.slice(2);
const folder = join('node_modules', '.cache', 'cavrin');
mkdirSync(folder, { recursive: true });
const outfile = join(folder, `${basename(file, '.ts')}-${process.pid}.mjs`);
try {
  await build({
    entryPoints: [file],
    outfile,
    bundle: true,
    packages: 'external',
    platform: 'node',
    target: 'node20',
    format: 'esm',
    logLevel: 'warning',
  });
  const { status } = spawnSync(process.execPath, ['--expose-gc', outfile, ...args], { stdio: 'inherit' });
  process.exitCode = status ?? 1;
} finally {
  rmSync(outfile, { force: true });
}

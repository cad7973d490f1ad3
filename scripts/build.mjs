// Bundles the program into one file, and the library beside it. The program is CommonJS although the sources are ES
// modules: Node starts a CommonJS file without its module loader, which is a tenth of the time of a short command.
import { chmod, rm, readFile } from 'node:fs/promises';
import { build } from 'esbuild';

const { version } = JSON.parse(await readFile('package.json', 'utf8'));
const shared = {
  bundle: true,
  platform: 'node',
  target: 'node20',
  legalComments: 'none',
  logLevel: 'warning',
  define: { 'import.meta.dirname': '__dirname', CAVRIN_VERSION: JSON.stringify(version) },
};

await rm('dist', { recursive: true, force: true });
await Promise.all([
  build({
    ...shared,
    entryPoints: ['src/cli/main.ts'],
    outfile: 'dist/cavrin.cjs',
    format: 'cjs',
    minify: true,
    keepNames: true,
    banner: { js: '#!/usr/bin/env node' },
  }),
  build({
    ...shared,
    entryPoints: ['src/core/index.ts'],
    outfile: 'dist/core.js',
    format: 'esm',
    packages: 'external',
  }),
]);
await chmod('dist/cavrin.cjs', 0o755);

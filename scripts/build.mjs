// Bundles the program into one file, and the library beside it. The program is CommonJS although the sources are ES
// modules: Node starts a CommonJS file without its module loader, which is a tenth of the time of a short command.
import { chmod, copyFile, mkdir, readFile, rm } from 'node:fs/promises';
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

/** Large libraries that only some policies or commands need lie in files of their own, which are read only then. */
const SEPARATE = ['refa', 'fastify', 'jose'];
const separate = {
  name: 'separate',
  setup({ onResolve }) {
    const names = new RegExp(`^(?:${SEPARATE.join('|')})$`);
    onResolve({ filter: names }, ({ path, kind }) =>
      kind === 'entry-point' ? undefined : { path: `./${path}.cjs`, external: true },
    );
  },
};

await rm('dist', { recursive: true, force: true });
await mkdir('dist');
await Promise.all([
  build({
    ...shared,
    entryPoints: ['src/cli/main.ts'],
    outfile: 'dist/cavrin.cjs',
    format: 'cjs',
    minify: true,
    keepNames: true,
    plugins: [separate],
    banner: { js: '#!/usr/bin/env node' },
  }),
  build({
    ...shared,
    entryPoints: ['src/cli/prove-worker.ts'],
    outfile: 'dist/prove-worker.cjs',
    format: 'cjs',
    minify: true,
    keepNames: true,
    plugins: [separate],
  }),
  ...SEPARATE.map((name) =>
    build({ ...shared, entryPoints: [name], outfile: `dist/${name}.cjs`, format: 'cjs', minify: true }),
  ),
  build({
    ...shared,
    platform: 'browser',
    target: 'es2022',
    entryPoints: ['src/stand-in/page-script/main.ts'],
    outfile: 'dist/page.js',
    format: 'iife',
    minify: true,
  }),
  ...['style.css', 'icon.svg'].map((name) => copyFile(`src/stand-in/${name}`, `dist/${name}`)),
  build({
    ...shared,
    entryPoints: ['src/core/index.ts'],
    outfile: 'dist/core.js',
    format: 'esm',
    packages: 'external',
  }),
]);
await chmod('dist/cavrin.cjs', 0o755);

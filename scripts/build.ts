// Bundles the program into one file, and the library beside it. The program is CommonJS although the sources are ES
// modules: Node starts a CommonJS file without its module loader, which is a tenth of the time of a short command.
import { chmod, copyFile, mkdir, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { build, type BuildOptions, type Plugin } from 'esbuild';

const { version } = JSON.parse(await readFile('package.json', 'utf8')) as { version: string };
const shared: BuildOptions & { readonly metafile: true } = {
  bundle: true,
  platform: 'node',
  target: 'node20',
  legalComments: 'none',
  logLevel: 'warning',
  metafile: true,
  define: { 'import.meta.dirname': '__dirname', CAVRIN_VERSION: JSON.stringify(version) },
};

/** Large libraries that only some policies or commands need lie in files of their own, which are read only then. */
const SEPARATE = [
  'refa',
  'fastify',
  'jose',
  'chokidar',
  'cheerio',
  'vega',
  '@hpcc-js/wasm-graphviz',
  '@resvg/resvg-wasm',
  'vscode-languageserver/node',
];
/** What a package's bundle is called: names of packages can hold a slash. */
const bundleOf = (name: string) => name.replace(/\/node$/, '').replace(/^.*\//, '');
const separate: Plugin = {
  name: 'separate',
  setup(building) {
    const names = new RegExp(`^(?:${SEPARATE.join('|')})$`);
    building.onResolve({ filter: names }, ({ path, kind }) =>
      kind === 'entry-point' ? undefined : { path: `./${bundleOf(path)}.cjs`, external: true },
    );
  },
};

/** Of the languages in which Zod can word what it finds only English is asked for; they are a quarter of a bundle. */
const english: Plugin = {
  name: 'english',
  setup(building) {
    building.onLoad({ filter: /\bzod\/v4\/locales\/index\.js$/ }, () => ({
      contents: "export { default as en } from './en.js';",
    }));
  },
};

/** The licences of all packages of which something is in the bundles, in one text. */
async function licencesOf(inputs: readonly string[]): Promise<string> {
  const folders = new Set(
    inputs.flatMap((input) => input.match(/^.*node_modules\/(?:@[^/]+\/)?[^/]+/)?.[0] ?? []),
  );
  const texts = await Promise.all(
    [...folders].sort().map(async (folder) => {
      const {
        name,
        version: of,
        license,
      } = JSON.parse(await readFile(join(folder, 'package.json'), 'utf8')) as Readonly<
        Record<string, string>
      >;
      const file = (await readdir(folder)).find((each) => /^(?:licen[cs]e|copying)(?:[.-].*)?$/i.test(each));
      const text = file === undefined ? '' : await readFile(join(folder, file), 'utf8');
      return `${name} ${of} (${license})\n\n${text.trim()}\n`;
    }),
  );
  const rule = `\n${'-'.repeat(78)}\n\n`;
  return `This program contains the following packages, each under its own licence.\n${rule}${texts.join(rule)}`;
}

const FONTS = 'node_modules/@expo-google-fonts/arimo';

await rm('dist', { recursive: true, force: true });
await mkdir('dist');
const built = await Promise.all([
  build({
    ...shared,
    entryPoints: ['src/cli/main.ts'],
    outfile: 'dist/main.cjs',
    format: 'cjs',
    minify: true,
    plugins: [separate, english],
  }),
  ...['prove-worker', 'doubt-worker'].map((name) =>
    build({
      ...shared,
      entryPoints: [`src/cli/${name}.ts`],
      outfile: `dist/${name}.cjs`,
      format: 'cjs',
      minify: true,
      plugins: [separate, english],
    }),
  ),
  ...SEPARATE.map((name) =>
    build({
      ...shared,
      // What a library has for browsers alone leaves out what reads files and asks networks.
      ...(name === 'cheerio' ? { conditions: ['browser'] } : {}),
      // A chart as SVG needs no canvas, which would be a binary of each system.
      ...(name === 'vega' ? { platform: 'browser' } : {}),
      entryPoints: [name],
      outfile: `dist/${bundleOf(name)}.cjs`,
      format: 'cjs',
      minify: true,
    }),
  ),
  build({
    ...shared,
    entryPoints: ['src/live/moved-date.ts'],
    outfile: 'dist/moved-date.cjs',
    format: 'cjs',
    minify: true,
  }),
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
  // What draws PNG, and the letters for it: of the widths of Arial.
  copyFile('node_modules/@resvg/resvg-wasm/index_bg.wasm', 'dist/resvg.wasm'),
  copyFile(`${FONTS}/400Regular/Arimo_400Regular.ttf`, 'dist/arimo.ttf'),
  copyFile(`${FONTS}/700Bold/Arimo_700Bold.ttf`, 'dist/arimo-bold.ttf'),
  // The library, for both kinds of modules. The builds for browsers ask nothing of Node, as the core does not.
  ...(
    [
      ['esm', 'dist/core.js'],
      ['cjs', 'dist/core.cjs'],
    ] as const
  ).map(([format, outfile]) =>
    build({
      ...shared,
      entryPoints: ['src/core/index.ts'],
      outfile,
      format,
      platform: 'browser',
      plugins: [separate, english],
    }),
  ),
]);
await writeFile(
  'dist/LICENSES.txt',
  await licencesOf(built.flatMap((each) => (each === undefined ? [] : Object.keys(each.metafile.inputs)))),
);
// Node 22 and later keep what they have compiled, once they are asked to before the program is loaded. V8 of Node 20 optimises so
// early that most commands are over before it pays; those that run long are left to it.
await writeFile(
  'dist/cavrin.cjs',
  `#!/usr/bin/env node
require('node:module').enableCompileCache?.();
if (/^v20\\./.test(process.version) && !/^(?:prove|serve)$/.test(process.argv[2])) {
  require('node:v8').setFlagsFromString('--interrupt-budget=400000');
}
require('./main.cjs');
`,
);
await chmod('dist/cavrin.cjs', 0o755);

import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';

const ROOT = join(__dirname, '..');
const files = readdirSync(join(ROOT, 'src'), { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts'))
  .map((name) => join('src', name));

/** Every import of a file: packages as they are written, files of this project from its root. */
function importsOf(file: string): string[] {
  const text = readFileSync(join(ROOT, file), 'utf8');
  const names = [...text.matchAll(/(?:\bfrom |\bimport\(|\bimport )'([^'\n]+)'/g)].map(
    (match) => match[1] ?? '',
  );
  return names.map((name) => (name.startsWith('.') ? relative(ROOT, join(ROOT, dirname(file), name)) : name));
}

const ALLOWED: Record<string, RegExp> = {
  'src/core': /^(src\/core\/|zod$|yaml$|refa$|papaparse$|fastest-levenshtein$|tldts$)/,
  'src/render': /^(src\/core\/internal\.js|src\/render\/|zod$|yaml$|picocolors$|fast-string-width$)/,
  'src/stand-in/page-script':
    /^src\/(core\/(audience|browser|http|language|time|vocabulary)\/|stand-in\/(page-script\/|tagged-json))/,
  'src/stand-in': /^(src\/core\/internal\.js|src\/render\/|src\/stand-in\/|node:|fastify$|jose$)/,
  'src/cli':
    /^(src\/core\/internal\.js|src\/render\/|src\/cli\/|src\/draw\/index\.js|src\/editor\/index\.js|src\/stand-in\/server\.js|src\/live\/index\.js|src\/sources\/index\.js|node:|chokidar$|commander$|supports-hyperlinks$)/,
  'src/editor':
    /^(src\/core\/internal\.js|src\/render\/|src\/editor\/|yaml$|zod$|vscode-languageserver(\/node|-textdocument)$)/,
  'src/draw':
    /^(src\/core\/internal\.js|src\/render\/|src\/draw\/|node:(fs|path)$|vega$|@hpcc-js\/wasm-graphviz$|@resvg\/resvg-wasm$)/,
  'src/sources': /^(src\/core\/internal\.js|src\/sources\/|jose$|saxes$|yaml$|zod$)/,
  'src/live': /^(src\/core\/internal\.js|src\/live\/|node:|cheerio$|playwright-core$)/,
};

test.each(Object.entries(ALLOWED))('%s imports only what lies further in', (folder, allowed) => {
  const inner = Object.keys(ALLOWED).filter((other) => other.startsWith(`${folder}/`));
  const own = files.filter(
    (file) => file.startsWith(`${folder}/`) && !inner.some((other) => file.startsWith(`${other}/`)),
  );
  expect(own.length).toBeGreaterThan(3);
  const others = own.flatMap((file) =>
    importsOf(file)
      .filter((name) => !allowed.test(name))
      .map((name) => `${file}: ${name}`),
  );
  expect(others).toEqual([]);
});

/** Folders from the ground up: each imports only from those before it, types included; what lies beside them is the top. */
const LADDERS: Record<string, readonly string[]> = {
  'src/core': [
    ...[
      'time',
      'vocabulary',
      'paths',
      'http',
      'language/text',
      'audience',

      'language',
      'app',
      'provider',
      'browser',
      'play',
      'credentials',
      'steps',
    ],
    ...[
      'laws',
      'walks',
      'real-app',
      'checks',
      'grid',
      'why',
      'proof',
      'overview',
      'coverage',
      'doubt',
      'draft',
      'diff',
      'library',
    ],
  ],
  'src/core/proof': ['time', 'situations', 'choices', 'abstraction', 'search', 'exposure', 'known'],
};

test.each(Object.entries(LADDERS))('the folders of %s are a ladder', (folder, rungs) => {
  // A room within a room is told by its own rung.
  const inner = rungs.toSorted((one, other) => other.length - one.length);
  const roomOf = (file: string) => {
    const path = file.slice(folder.length + 1);
    if (!path.includes('/')) return null;
    return inner.find((rung) => path.startsWith(`${rung}/`)) ?? path.split('/')[0] ?? null;
  };
  const own = files.filter((file) => file.startsWith(`${folder}/`));
  expect(new Set(own.map(roomOf))).toEqual(new Set([...rungs, null]));
  const rungOf = (file: string) => {
    const room = roomOf(file);
    return room === null ? rungs.length : rungs.indexOf(room);
  };
  const upward = own.flatMap((file) =>
    importsOf(file)
      .filter((name) => name.startsWith(`${folder}/`) && rungOf(name) > rungOf(file))
      .map((name) => `${file}: ${name}`),
  );
  expect(upward).toEqual([]);
});

test('no files import each other in a circle of any length, not even for types', () => {
  const imports = new Map(
    files.map((file) => [file, importsOf(file).map((name) => name.replace(/\.js$/, '.ts'))]),
  );
  const circles: string[] = [];
  const done = new Set<string>();
  const visit = (file: string, above: readonly string[]) => {
    const at = above.indexOf(file);
    if (at >= 0) circles.push([...above.slice(at), file].join(' → '));
    if (at >= 0 || done.has(file)) return;
    for (const name of imports.get(file) ?? []) visit(name, [...above, file]);
    done.add(file);
  };
  for (const file of files) visit(file, []);
  expect(circles).toEqual([]);
});

test.each([
  ['src/core/x.ts', "import { readFileSync } from 'node:fs';", 'no-restricted-imports'],
  ['src/core/app/x.ts', "import { flow } from '../../render/columns.js';", 'no-restricted-imports'],
  ['src/core/x.ts', 'export const now = Date.now();', 'no-restricted-properties'],
  ['src/core/x.ts', 'export const chance = Math.random();', 'no-restricted-properties'],
  ['src/core/x.ts', 'export const here = process.env;', 'no-restricted-globals'],
  ['src/render/x.ts', "import { readTexts } from '../cli/files.js';", 'no-restricted-imports'],
  ['src/stand-in/x.ts', "import { readTexts } from '../cli/files.js';", 'no-restricted-imports'],
  ['src/stand-in/page-script/x.ts', "import { html } from '../pages/html.js';", 'no-restricted-imports'],
  ['src/render/x.ts', "import { writeFileSync } from 'node:fs';", 'no-restricted-imports'],
])('the lint rules of %s refuse %s', (file, text, rule) => {
  const eslint = join(ROOT, 'node_modules/eslint/bin/eslint.js');
  const config = join(ROOT, 'tests/support/fences-only.config.mjs');
  const args = [eslint, '--config', config, '--stdin', '--stdin-filename', file, '--format', 'json'];
  const { stdout } = spawnSync(process.execPath, args, { cwd: ROOT, input: text, encoding: 'utf8' });
  const [result] = JSON.parse(stdout) as { messages: { ruleId: string }[] }[];
  expect(result?.messages.map((message) => message.ruleId)).toContain(rule);
});

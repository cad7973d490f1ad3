// Changes the meaning of one line after another and tells which changes no test notices.
// npm run mutants -- src/core/laws src/core/app/login.ts
// With --share 10 only every tenth line is changed, the first by SEED: a folder may take hours as a whole.
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';

/** Sound and flawed policies, each with its walks. */
const EXAMPLES = 'tests/examples.test.ts';
/** The folders of tests that are run for a change of a folder; the heavy ones of the proof only for the proof. */
const TESTS: Readonly<Record<string, readonly string[]>> = {
  'src/core/proof': ['tests/core/proof'],
  'src/core/checks': ['tests/core/checks', EXAMPLES],
  'src/core/paths': ['tests/core/paths', 'tests/core/app'],
  'src/core/http': ['tests/core/http', 'tests/core/browser', 'tests/core/app'],
};
const USUAL = [
  ...['app', 'browser', 'credentials', 'grid', 'language', 'laws', 'rules', 'walks', 'why'].map(
    (room) => `tests/core/${room}`,
  ),
  EXAMPLES,
];

const { values, positionals: paths } = parseArgs({
  allowPositionals: true,
  options: { share: { type: 'string', default: '1' }, concurrency: { type: 'string', default: '2' } },
});
const share = Number(values.share);
if (paths.length === 0 || !Number.isInteger(share) || share < 1) {
  console.error(
    'Name what is to be changed: npm run mutants -- src/core/laws [--share 10] [--concurrency 1]',
  );
  process.exit(2);
}

/** Every so many lines of a file, counted over all files. */
let line = Number(process.env['SEED'] ?? 0);
const linesOf = (file: string): string[] =>
  readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((_, at) => (line++ % share === 0 ? `${file}:${at + 1}-${at + 1}` : []));
const filesBelow = (path: string): string[] =>
  statSync(path).isDirectory()
    ? readdirSync(path, { recursive: true, encoding: 'utf8' })
        .filter((name) => name.endsWith('.ts'))
        .sort()
        .map((name) => join(path, name))
    : [path];

const tests = new Set(
  paths.flatMap((path) => {
    const room = Object.keys(TESTS).find((folder) => path.startsWith(folder));
    return TESTS[room ?? ''] ?? USUAL;
  }),
);
const files = paths.flatMap(filesBelow);
const mutate = share === 1 ? files : files.flatMap(linesOf);
const { status } = spawnSync(
  'npx',
  ['stryker', 'run', 'stryker.config.mjs', '--mutate', mutate.join(','), '--concurrency', values.concurrency],
  { stdio: 'inherit', env: { ...process.env, MUTANTS_TESTS: [...tests].join(',') } },
);
process.exit(status ?? 2);

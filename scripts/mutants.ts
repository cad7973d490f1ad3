// Changes the meaning of one line after another and tells which changes no test notices.
// npm run mutants -- src/core/laws src/core/app/login.ts
import { spawnSync } from 'node:child_process';
import { statSync } from 'node:fs';

/** The folders of tests that are run for a change of a folder; the heavy ones of the proof only for the proof. */
const TESTS: Readonly<Record<string, readonly string[]>> = {
  'src/core/proof': ['tests/core/proof'],
  'src/core/checks': ['tests/core/checks'],
  'src/core/paths': ['tests/core/paths', 'tests/core/app'],
  'src/core/http': ['tests/core/http', 'tests/core/browser', 'tests/core/app'],
};
const USUAL = ['app', 'browser', 'credentials', 'grid', 'language', 'laws', 'rules', 'walks', 'why'].map(
  (room) => `tests/core/${room}`,
);

const paths = process.argv.slice(2).filter((each) => each.startsWith('src/'));
const options = process.argv.slice(2).filter((each) => !each.startsWith('src/'));
if (paths.length === 0) {
  console.error('Name what is to be changed: npm run mutants -- src/core/laws');
  process.exit(2);
}
const tests = new Set(
  paths.flatMap((path) => {
    const room = Object.keys(TESTS).find((folder) => path.startsWith(folder));
    return TESTS[room ?? ''] ?? USUAL;
  }),
);
const mutate = paths.map((path) => (statSync(path).isDirectory() ? `${path}/**/*.ts` : path));
const { status } = spawnSync(
  'npx',
  ['stryker', 'run', 'stryker.config.mjs', '--mutate', mutate.join(','), ...options],
  { stdio: 'inherit', env: { ...process.env, MUTANTS_TESTS: [...tests].join(',') } },
);
process.exit(status ?? 2);

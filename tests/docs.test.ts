import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { REASONS } from '../src/core/vocabulary/reasons';
import { runChecks } from '../src/core/checks/run-checks';
import { STEP_KINDS } from '../src/core/steps/all-steps';
import { EXPECTATIONS } from '../src/core/walks/walk-schema';
import { policySchema } from '../src/core/language/policy-schema';
import { playWalk } from '../src/core/walks/runner';
import { DEEDS } from '../src/stand-in/steering';
import { DEADLINES } from '../src/core/vocabulary/deadlines';
import { differences, project } from './support/policies';

const ROOT = join(__dirname, '..');
const page = (name: string) => readFileSync(join(ROOT, name), 'utf8');

test('every package that is used is listed with its reason', () => {
  const { dependencies, devDependencies } = JSON.parse(
    readFileSync(join(ROOT, 'package.json'), 'utf8'),
  ) as Record<string, Record<string, string>>;
  const page = readFileSync(join(ROOT, 'docs/dependencies.md'), 'utf8');
  for (const name of Object.keys({ ...dependencies, ...devDependencies })) {
    expect(page).toContain(`\`${name}\``);
  }
});

test('what the pages link to exists', () => {
  const pages = [
    'README.md',
    ...readdirSync(join(ROOT, 'docs'))
      .filter((name) => name.endsWith('.md'))
      .map((name) => `docs/${name}`),
  ];
  const broken = pages.flatMap((page) => {
    const text = readFileSync(join(ROOT, page), 'utf8');
    const links = [...text.matchAll(/\]\(([^)#:]+)(?:#[^)]*)?\)/g)].map((match) => match[1] ?? '');
    return links
      .filter((link) => !existsSync(join(ROOT, dirname(page), link)))
      .map((link) => `${page}: ${link}`);
  });
  expect(broken).toEqual([]);
});

test('the policy in the README is sound, and its walk comes out as it says', () => {
  const [, text = ''] = /```yaml\n([^]*?)```/.exec(page('README.md')) ?? [];
  const { policy, input, stage, walks } = project(text);
  expect(policy && input && runChecks(policy, input)).toEqual([]);
  expect(walks.map((walk) => differences(playWalk(stage, walk)))).toEqual([[]]);
});

test('the page on the stand-in names every option and everything that can be steered, and nothing else', () => {
  const text = page('docs/stand-in.md');
  const steered = [...text.matchAll(/^\| `POST \/-\/([\w-]+)`/gm)].map((match) => match[1]);
  expect(steered).toEqual([...DEEDS]);
  const options = [...page('src/cli/serve-command.ts').matchAll(/'(--(?!no-|color)[\w-]+)/g)].map(
    (match) => match[1],
  );
  expect(options.length).toBeGreaterThan(3);
  for (const option of options) expect(text).toContain(`\`${option ?? ''}`);
});

test('the page on the proof names every option of its own', () => {
  const text = page('docs/prove.md');
  const options = [...page('src/cli/prove-command.ts').matchAll(/'(--[\w-]+)/g)].map((match) => match[1]);
  expect(options.length).toBeGreaterThan(7);
  for (const option of options) expect(text).toContain(`\`${option ?? ''}`);
});

test('the language page has the row of every step, in their order', () => {
  const table = page('docs/language.md').split('| step | does |\n| --- | --- |\n')[1] ?? '';
  const rows = table.slice(0, table.indexOf('\n\n')).split('\n');
  expect(rows).toEqual(STEP_KINDS.map(({ row: [written, does] }) => `| ${written} | ${does} |`));
});

test('the language page names every section, expectation, deadline and reason', () => {
  const language = page('docs/language.md');
  const names = [...Object.keys(policySchema.shape), ...Object.keys(EXPECTATIONS), ...DEADLINES, ...REASONS];
  expect(names.filter((name) => !new RegExp(`\`${name}[\`:]`).test(language))).toEqual([]);
});

import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { REASONS, reasonKind } from '../src/core/app/reasons';
import { ALL_CHECKS } from '../src/core/checks/all-checks';
import { runChecks } from '../src/core/checks/run-checks';
import { DIFFERENCE_CLASSES } from '../src/core/real-app/compare-step';
import { liveSchema } from '../src/core/real-app/live-schema';
import { FORMATS_OF } from '../src/render/formats';
import { STEP_KINDS } from '../src/core/steps/all-steps';
import { REFUSAL_KINDS } from '../src/core/language/refusals';
import { SESSION_OPTIONS } from '../src/core/language/session-options';
import { EXPECTATIONS } from '../src/core/walks/walk-schema';
import { ALL_LAWS } from '../src/core/laws/all-laws';
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

describe('the page of siblings', () => {
  const APART = ['cavrin', 'app', 'origin', 'hosts', 'login', 'accepted', 'walks'];
  const sections = Object.keys(policySchema.shape).filter((name) => !APART.includes(name));
  const kinds = page('docs/siblings.md').split(/^## /m).slice(1);
  test.each(kinds.map((kind) => [kind.split('\n', 1)[0], kind]))(
    '%s: every section, with checks and laws that exist',
    (_, kind) => {
      const rows = [...kind.matchAll(/^\| `([\w-]+)` +\| (.*?) +\|$/gm)];
      const [, rest = ''] = /Nowhere else, since [^:]*: ([^]*)\./.exec(kind) ?? [];
      const named = [...rows.map(([, name]) => name), ...codesIn(rest)];
      expect([...named].sort()).toEqual([...sections].sort());
      const known = new Set([
        ...ALL_CHECKS.map(({ meta }) => meta.code),
        ...ALL_LAWS.map(({ meta }) => meta.name),
      ]);
      for (const [, , cell = ''] of rows) {
        const codes = codesIn(cell).filter((code) => known.has(code));
        expect({ cell, isClosed: codes.length > 0 || cell.startsWith('nothing: ') }).toEqual({
          cell,
          isClosed: true,
        });
        // What is no check is a key of the section itself.
        const others = codesIn(cell).filter((code) => !known.has(code) && code.split('-').length > 2);
        expect(others).toEqual([]);
      }
    },
  );
});

test('the page of standards names tests and checks that exist', () => {
  const rows = [...page('docs/standards.md').matchAll(/^\|.*\|.*\|(.*)\|$/gm)].slice(2);
  const known = new Set<string>(ALL_CHECKS.map(({ meta }) => meta.code));
  for (const [row, by = ''] of rows) {
    const held = [...by.matchAll(/`([^`]+)`/g)].map(([, name = '']) => name);
    const missing = held.filter((name) => !known.has(name) && !existsSync(join(ROOT, name)));
    expect({ row, count: held.length > 0, missing }).toEqual({ row, count: true, missing: [] });
  }
});

function codesIn(text: string): string[] {
  return [...text.matchAll(/`([\w-]+)`/g)].map(([, code = '']) => code);
}

test('what the pages link to exists', () => {
  const pages = [
    'README.md',
    ...readdirSync(join(ROOT, 'docs'), { recursive: true, encoding: 'utf8' })
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
  const sources = ['src/cli/prove-command.ts', 'src/cli/prove-options.ts'].map(page).join('\n');
  const options = [...sources.matchAll(/'(--[\w-]+)/g)].map((match) => match[1]);
  expect(options.length).toBeGreaterThan(7);
  for (const option of options) expect(text).toContain(`\`${option ?? ''}`);
});

test('the page on live runs names every option, key and class', () => {
  const text = page('docs/live.md');
  const options = [...page('src/cli/live-command.ts').matchAll(/'(--[\w-]+)/g)].map((match) => match[1]);
  expect(options.length).toBeGreaterThan(9);
  for (const option of options) expect(text).toContain(`\`${option ?? ''}`);
  for (const key of Object.keys(liveSchema().shape)) expect(text).toContain(`\`${key}\``);
  for (const words of Object.values(DIFFERENCE_CLASSES)) expect(text).toContain(`| *${words}* |`);
});

const code = (value: string | number) => (typeof value === 'number' ? String(value) : `\`${value}\``);

const TOPICS = readdirSync(join(ROOT, 'docs/language')).sort(
  (one, other) => Number.parseInt(one, 10) - Number.parseInt(other, 10),
);

/** The pages on the language, one after another. */
const language = () =>
  ['docs/language.md', ...TOPICS.map((name) => `docs/language/${name}`)].map(page).join('\n');

/** The policies that stand whole on a page. */
const policiesOn = (name: string) =>
  [...page(`docs/language/${name}`).matchAll(/^```yaml\n(cavrin: 1\n[^]*?)^```$/gm)].map(
    ([, text = '']) => text,
  );

test('there is a policy for each topic, and each page leads to the next', () => {
  expect(TOPICS.length).toBeGreaterThan(8);
  for (const [at, name] of TOPICS.slice(0, -1).entries()) {
    expect([name, policiesOn(name).length]).toEqual([name, at === 0 ? 2 : 1]);
    expect(page(`docs/language/${name}`)).toContain(`](${TOPICS[at + 1] ?? ''})`);
  }
});

test.each(TOPICS.flatMap((name) => policiesOn(name).map((text, at) => [name, at, text] as const)))(
  'the policy of %s (%i) is sound, and its walks come out as they say',
  (name, at, text) => {
    const { policy, input, stage, walks } = project(text);
    const findings = policy && input ? runChecks(policy, input, walks) : [];
    const found = [...new Set(findings.map((finding) => finding.code))].sort();
    // The first policy is too short, and its page says what for.
    const said = [
      ...page(`docs/language/${name}`).matchAll(/^`cavrin check` says what is missing: (.*)\. /gm),
    ];
    const named = [...(said[0]?.[1] ?? '').matchAll(/`([\w-]+)`/g)].map(([, each]) => each);
    expect(found).toEqual(at === 0 ? named : []);
    expect(walks.flatMap((walk) => differences(playWalk(stage, walk)))).toEqual([]);
    expect(walks.length > 0).toBe(at > 0 || named.length === 0);
  },
);

test.each([
  ['| step | does |', STEP_KINDS.map(({ row }) => row)],
  [
    '| session | takes | means |',
    Object.entries(SESSION_OPTIONS).map(([key, { row }]) => [code(key), ...row]),
  ],
  ['| reason | when |', REASONS.map((reason) => [code(reason), reasonKind(reason).when])],
  [
    '| refusal | who gets it | of a page | of `kind: api` |',
    Object.entries(REFUSAL_KINDS).map(([key, { who, page: of, api }]) => [
      code(key),
      who,
      code(of),
      code(api),
    ]),
  ],
])('the pages on the language have every row of %s, in their order', (head, rows) => {
  const table = language().split(`${head}\n`)[1] ?? '';
  const written = table.slice(0, table.indexOf('\n\n')).split('\n').slice(1);
  expect(written).toEqual(rows.map((cells) => `| ${cells.join(' | ')} |`));
});

test('every file of the proof names its step on the page on its method, and every test that the page names is there', () => {
  const method = page('docs/proof-method.md');
  const steps = new Map(
    [...method.matchAll(/^\| \[(\d)\. .*\| `(\w+)` \|/gm)].map(([, number, room]) => [room, number]),
  );
  expect(steps.size).toBe(7);
  for (const name of readdirSync(join(ROOT, 'src/core/proof'), { recursive: true, encoding: 'utf8' })) {
    const [room = '', file] = name.split('/');
    if (file === undefined) continue;
    expect([name, page(`src/core/proof/${name}`).slice(0, 40)]).toEqual([
      name,
      expect.stringContaining(`Step ${steps.get(room) ?? '?'} of docs/proof-method.md`),
    ]);
  }
  const tests = [...method.matchAll(/^\| \[\d.*\|([^|]*)\|$/gm)].flatMap(([, cell = '']) => [
    ...cell.matchAll(/`([\w-]+)`/g),
  ]);
  expect(tests.length).toBeGreaterThan(10);
  for (const [, name] of tests) {
    expect(existsSync(join(ROOT, `tests/core/proof/${name ?? ''}.test.ts`))).toBe(true);
  }
});

test('the page on output has every form of every command', () => {
  const rows = Object.entries(FORMATS_OF).flatMap(([command, formats]) =>
    formats.map(({ name, is }) => `| \`${command}\` | \`${name}\` | ${is} |`),
  );
  const written = page('docs/json.md').match(/^\| `.*` \| `\w+` \| .* \|$/gm);
  expect(written).toEqual(rows);
});

test('the pages on the language name every section, expectation and deadline', () => {
  const text = language();
  const names = [...Object.keys(policySchema.shape), ...Object.keys(EXPECTATIONS), ...DEADLINES, ...REASONS];
  expect(names.filter((name) => !new RegExp(`\`${name}[\`:]`).test(text))).toEqual([]);
});

test('the page on changes names every option of diff', () => {
  const options = [...page('src/cli/diff-command.ts').matchAll(/'(--[\w-]+)/g)].map((match) => match[1]);
  expect(options).toContain('--fail-on');
  for (const option of options) expect(page('docs/diff.md')).toContain(`\`${option ?? ''}`);
});

test('the page on reports and pictures names every picture, and every option of draw and report', () => {
  const text = page('docs/report.md');
  for (const file of ['draw', 'report']) {
    const options = [...page(`src/cli/${file}-command.ts`).matchAll(/'(--[\w-]+)/g)].map((match) => match[1]);
    expect(options.length).toBeGreaterThan(1);
    for (const option of options) expect(text).toContain(option ?? '');
  }
  for (const picture of ['landings', 'states', 'lives', 'grid', 'walk <name>']) {
    expect(text).toContain(`| \`${picture}\` |`);
  }
});

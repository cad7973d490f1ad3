import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { ALL_CHECKS } from '../../../src/core/checks/all-checks';
import { Branches, isBelow } from '../../../src/core/checks/below';
import type { AnyCheck } from '../../../src/core/checks/check';
import { runChecks } from '../../../src/core/checks/run-checks';
import { PROBLEMS } from '../../../src/core/language/text/problems';
import { harbour, line, policyText, project } from '../../support/policies';
import { parsePattern, type Pattern } from '../../../src/core/paths/pattern';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { CASES, FURTHER_CASES, QUIET } from './cases';
import { LOGIN_CASES, LOGIN_QUIET } from './login-cases';
import { MACHINE_CASES, MACHINE_QUIET } from './machine-cases';
import { NEWER_CASES, NEWER_QUIET } from './newer-cases';
import { SIBLING_CASES, SIBLING_QUIET } from './sibling-cases';

const ALL_CASES = [
  ...CASES,
  ...FURTHER_CASES,
  ...NEWER_CASES,
  ...LOGIN_CASES,
  ...MACHINE_CASES,
  ...SIBLING_CASES,
];

/** What the checks find in a policy, as `code line:column`, and in words. */
function findings(
  text: string,
  checks: readonly AnyCheck[] = ALL_CHECKS,
): { places: string[]; words: string[] } {
  const { policy, input, walks } = project(text);
  if (policy === null || input === null) throw new Error('no policy');
  const found = runChecks(policy, input, walks, checks);
  return { places: found.map(line), words: found.map(({ message }) => message) };
}

beforeAll(loadRegularLanguages);

describe.each(ALL_CASES)('%s', (code, bad, words, good) => {
  const only = ALL_CHECKS.filter((check) => check.meta.code === code);

  test(`finds: ${words}`, () => {
    expect(findings(policyText(bad), only).words).toEqual([words]);
  });

  test('is silent on the nearest good policy', () => {
    expect(findings(policyText(good))).toEqual({ places: [], words: [] });
  });
});

test.each([...QUIET, ...NEWER_QUIET, ...LOGIN_QUIET, ...MACHINE_QUIET, ...SIBLING_QUIET])(
  '%s says nothing where %s',
  (code, _why, parts) => {
    const { words } = findings(
      policyText(parts),
      ALL_CHECKS.filter((check) => check.meta.code === code),
    );
    expect(words).toEqual([]);
  },
);

test('every finding, and all that it refers to, stands at something that is written', () => {
  const atStart = new Set<string>();
  const told = { related: 0, shownBy: 0 };
  for (const [code, bad] of ALL_CASES) {
    const { policy, input, walks } = project(policyText(bad));
    if (policy === null || input === null) throw new Error('no policy');
    const checks = ALL_CHECKS.filter((check) => check.meta.code === code);
    for (const { place, related, shownBy } of runChecks(policy, input, walks, checks)) {
      for (const each of [place, ...related.map((other) => other.place)]) {
        if ((each?.start ?? 0) === 0) atStart.add(code);
      }
      told.related += related.length;
      if (shownBy !== undefined) told.shownBy += 1;
    }
  }
  // What is missing as a whole stands nowhere.
  expect([...atStart].sort()).toEqual(['no-way-in', 'session-without-limit']);
  expect(told.related).toBeGreaterThanOrEqual(46);
  expect(told.shownBy).toBeGreaterThanOrEqual(20);
});

test('a loop of several pages is told once, with all of them and whom it is for', () => {
  const loop = policyText({
    pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /a: { for: chief }, /b: { for: chief } }',
    more: 'refusals: { role: /a, guests-only: /b, guest: 401 }',
  });
  expect(findings(loop).words.filter((each) => each.includes('circle'))).toEqual([
    'ann is sent round in a circle: /a → /a',
  ]);
});

test('the place is that of the culprit', () => {
  const text = policyText({ session: null, logout: 'logout: { submit: POST /out, ends: [] }' });
  const lines = text.split('\n');
  const row = lines.findIndex((each) => each.startsWith('logout')) + 1;
  const column = (lines[row - 1]?.indexOf('ends: ') ?? 0) + 'ends: '.length + 1;
  expect(findings(text).places).toContain(`logout-ends-too-little ${row}:${column}`);
});

describe('accepting findings', () => {
  const accepting = (check: string, session: string | null) =>
    findings(policyText({ session, more: `accepted: [{ check: ${check}, because: it is a kiosk }]` }));

  test('silences those of the check', () => {
    expect(accepting('session-without-limit', null).places).toEqual([]);
  });

  test('is itself reported where it silences nothing', () => {
    const { places, words } = accepting('session-without-limit', 'session: { absolute: 5m }');
    expect(words).toEqual(['session-without-limit is accepted here, but there is no such finding']);
    expect(places).toEqual(['accepts-nothing 12:21']);
  });

  test('asks for a check that exists', () => {
    expect(accepting('sesion-without-limit', null).words).toContain(
      'no check has the code sesion-without-limit',
    );
  });
});

test('a check that fails is reported and does not hide the others', () => {
  const meta = { ...(ALL_CHECKS[0] as AnyCheck).meta, code: 'broken' };
  const broken: AnyCheck = {
    meta,
    find: () => {
      throw new Error('it broke');
    },
  };
  const found = findings(policyText({ session: null }), [broken, ...ALL_CHECKS]);
  expect(found.words[0]).toBe('the check broken failed: it broke');
  expect(found.words).toHaveLength(2);
});

test('the harbour example is sound', () => {
  const { policy, input } = harbour();
  expect(policy && input && runChecks(policy, input)).toEqual([]);
});

describe('the list of checks', () => {
  const codes = ALL_CHECKS.map((check) => check.meta.code);
  const folder = join(__dirname, '../../../src/core/checks');
  const machinery = [
    ...[
      'all-checks.ts',
      'check.ts',
      'facts.ts',
      'loaded-data.ts',
      'link-forms.ts',
      'impossibilities.ts',
      'rule-coverage.ts',
      'run-checks.ts',
    ],
    ...[
      'acted-for.ts',
      'below.ts',
      'encounters.ts',
      'opened.ts',
      'part-requests.ts',
      'step-up.ts',
      'targets.ts',
      'writes-beside.ts',
    ],
  ];

  test('has every file of the folder, under its name', () => {
    const files = readdirSync(folder).filter((name) => !machinery.includes(name));
    expect(files.map((name) => name.replace('.ts', '')).sort()).toEqual([...codes].sort());
  });

  test('has no code twice, nor one that a problem of form has', () => {
    const all = [...codes, ...Object.keys(PROBLEMS)];
    expect(new Set(all).size).toBe(all.length);
  });

  test('has a case above for every check', () => {
    expect(new Set(ALL_CASES.map(([code]) => code))).toEqual(new Set(codes));
  });

  test('is what the documentation says, in the same order', () => {
    const page = readFileSync(join(__dirname, '../../../docs/checks.md'), 'utf8');
    expect([...page.matchAll(/^## `(.*)`$/gm)].map((match) => match[1])).toEqual(codes);
    for (const { meta } of ALL_CHECKS) {
      for (const sentence of [meta.title, meta.why, meta.mend, meta.cwe ?? '']) {
        expect(page).toContain(sentence);
      }
    }
  });
});

test('what lies above a pattern is found by its segments as it is by looking at each', () => {
  const segment = fc.constantFrom('a', 'b', ':x', ':y');
  const written = fc
    .tuple(fc.array(segment, { maxLength: 4 }), fc.boolean())
    .map(([segments, tail]) => `/${[...new Set(segments), ...(tail ? ['**'] : [])].join('/')}`);
  const patterns = fc.array(
    written.map((text) => parsePattern(text) as Pattern),
    { maxLength: 12 },
  );
  let found = 0;
  fc.assert(
    fc.property(patterns, patterns, (above, below) => {
      const branches = new Branches<Pattern>();
      for (const each of above) branches.add(each, each);
      for (const pattern of below) {
        const wanted = above.filter((each) => isBelow(pattern, each));
        expect(branches.above(pattern)).toEqual(wanted);
        found += wanted.length;
      }
    }),
  );
  expect(found).toBeGreaterThan(100);
});

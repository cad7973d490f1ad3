import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ALL_CHECKS } from '../../../src/core/checks/all-checks';
import type { AnyCheck } from '../../../src/core/checks/check';
import { runChecks } from '../../../src/core/checks/run-checks';
import { PROBLEMS } from '../../../src/core/language/problems';
import { harbour, line, policyText, project } from '../../support/policies';

/** What the checks find in a policy, as `code line:column`, and in words. */
function findings(
  text: string,
  checks: readonly AnyCheck[] = ALL_CHECKS,
): { places: string[]; words: string[] } {
  const { policy, input } = project(text);
  if (policy === null || input === null) throw new Error('no policy');
  const found = runChecks(policy, input, checks);
  return { places: found.map(line), words: found.map(({ message }) => message) };
}

const LOGIN = 'login: { page: /in, submit: POST /in';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }';
type Parts = Parameters<typeof policyText>[0];

/** Of each check the smallest bad policy, what it says of it, and the nearest good one. */
const CASES: [code: string, bad: Parts, words: string, good: Parts][] = [
  ['no-way-in', { login: null, logout: null }, 'the policy has no login: nobody can ever be signed in', {}],
  [
    'login-page-closed',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: signed-in }')} }`, refusals: '' } as Parts,
    'guests are refused at the login page /in',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: everyone }')} }` },
  ],
  [
    'redirect-target-missing',
    { login: `${LOGIN}, wrong: /sorry }` },
    '/sorry is no page: whoever is sent there gets a 404',
    { login: `${LOGIN}, wrong: /sorry }`, pages: `${PAGES}, /sorry: { for: everyone } }` },
  ],
  [
    'redirect-target-missing',
    { logout: 'logout: { submit: POST /out, lands: /out }' },
    '/out answers POST only: whoever is sent there gets a 405',
    { logout: 'logout: { submit: POST /out, lands: /in?bye }' },
  ],
  [
    'redirect-loop',
    { more: 'refusals: { role: /desk }' },
    'cy is sent round in a circle: /desk → /desk',
    { more: 'refusals: { role: /hall }' },
  ],
  [
    'redirect-loop',
    { landing: 'landing: [{ otherwise: /in }]' },
    'ann is sent round in a circle: /in → /in',
    { landing: 'landing: [{ otherwise: /hall }]' },
  ],
  [
    'landing-refused',
    { landing: 'landing: [{ role: clerk, to: /safe }, { otherwise: / }]' },
    'the account ann lands at /safe and is refused there',
    { landing: 'landing: [{ role: chief, to: /safe }, { otherwise: / }]' },
  ],
  [
    'landing-refused',
    { accounts: 'accounts: {}', landing: 'landing: [{ role: [chief, clerk], to: /safe }, { otherwise: / }]' },
    'the role clerk lands at /safe and is refused there',
    {
      accounts: 'accounts: {}',
      landing: 'landing: [{ role: chief, to: /safe }, { role: [chief, clerk], to: /desk }, { otherwise: / }]',
    },
  ],
  [
    'landing-unmatched',
    { landing: 'landing: [{ role: clerk, to: /desk }]' },
    'no landing entry is for the account cy',
    { landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]' },
  ],
  ['landing-unmatched', { landing: null }, 'there is a login but no landing for anybody', {}],
  [
    'rule-never-matches',
    {
      rules:
        'rules: [{ path: /a/*, for: clerk }, { path: [/a, /a/*/*/**], for: clerk }, { path: /a/**, for: chief }]',
    },
    'no address reaches /a/**: rules 1 and 2 take them all',
    {
      rules:
        'rules: [{ path: /a/*, for: clerk }, { path: /a/*/*/**, for: clerk }, { path: /a/**, for: chief }]',
    },
  ],
  [
    'audience-unsatisfiable',
    { rules: 'rules: [{ path: /x, for: { any: chief, none: clerk } }]' },
    'nobody can be in this audience: whoever holds the roles it asks for holds clerk too',
    { rules: 'rules: [{ path: /x, for: { any: [chief, clerk], none: chief } }]' },
  ],
  [
    'audience-unsatisfiable',
    { pages: `${PAGES}, /x: { read: everyone, write: { all: chief, none: clerk } } }` },
    'nobody can be in this audience: whoever holds the roles it asks for holds clerk too',
    { pages: `${PAGES}, /x: { read: everyone, write: { all: clerk, none: chief } } }` },
  ],
  [
    'return-address-careless',
    { login: `${LOGIN}, return: { accept: leading-slash } }` },
    'accept: leading-slash takes the return address //wreckers.example/, which leads to https://wreckers.example',
    { login: `${LOGIN}, return: { accept: { listed: [/desk] } } }` },
  ],
  [
    'return-address-careless',
    { login: `${LOGIN}, return: { accept: anything, only-if-allowed: false } }` },
    'accept: anything takes the return address https://wreckers.example/, which leads to https://wreckers.example',
    { login: `${LOGIN}, return: { accept: never } }` },
  ],
  [
    'session-without-limit',
    { session: null },
    'sessions have neither an idle nor an absolute limit: they never end by themselves',
    { session: 'session: { absolute: 8h }' },
  ],
  [
    'logout-ends-too-little',
    { logout: 'logout: { submit: POST /out, ends: [] }' },
    'a logout clears the browser but leaves the session good in the app',
    { logout: 'logout: { submit: POST /out, clears: [], ends: [session] }' },
  ],
  [
    'logout-ends-too-little',
    {
      login: `${LOGIN}, by: both }`,
      logout: 'logout: { submit: POST /out, clears: [session], ends: [session] }',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
    },
    'a logout leaves the refresh token good in the app',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }' },
  ],
];

describe.each(CASES)('%s', (code, bad, words, good) => {
  const only = ALL_CHECKS.filter((check) => check.meta.code === code);

  test(`finds: ${words}`, () => {
    expect(findings(policyText(bad), only).words).toEqual([words]);
  });

  test('is silent on the nearest good policy', () => {
    expect(findings(policyText(good))).toEqual({ places: [], words: [] });
  });
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
  const machinery = ['all-checks.ts', 'check.ts', 'facts.ts', 'run-checks.ts'];

  test('has every file of the folder, under its name', () => {
    const files = readdirSync(folder).filter((name) => !machinery.includes(name));
    expect(files.map((name) => name.replace('.ts', '')).sort()).toEqual([...codes].sort());
  });

  test('has no code twice, nor one that a problem of form has', () => {
    const all = [...codes, ...Object.keys(PROBLEMS)];
    expect(new Set(all).size).toBe(all.length);
  });

  test('has a case above for every check', () => {
    expect(new Set(CASES.map(([code]) => code))).toEqual(new Set(codes));
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

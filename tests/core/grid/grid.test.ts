import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { compareGrid, gridCsv } from '../../../src/core/grid/agreed';
import { ownAddress } from '../../../src/core/app/classes';
import { cellAt, gridOf, rowsOf, statesOf, type Grid } from '../../../src/core/grid/grid';
import { CONDITIONS, holdsAnything, reach } from '../../../src/core/grid/login-state';
import { roleStates } from '../../../src/core/grid/role-states';
import { sourceOf } from '../../../src/core/language/text/source';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import type { Stage } from '../../../src/core/play/stage';
import { EXAMPLES, harbour, policyText, project, shipped, SHIPPED } from '../../support/policies';

type Parts = Parameters<typeof policyText>[0];

beforeAll(loadRegularLanguages);

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }';

function grid(parts: Parts = {}, method: 'GET' | 'POST' = 'GET'): Grid {
  const { policy } = project(policyText(parts));
  if (policy === null) throw new Error('no policy');
  return gridOf(policy, method);
}

/** The cells of a page, by state. */
function row(of: Grid, page: string): Record<string, string> {
  const cells = of.rows.find((each) => each.page === page)?.cells ?? [];
  return Object.fromEntries(of.states.map((state, at) => [state.name, cells[at] ?? '']));
}

test('every login state is tried on every page', () => {
  const all = grid();
  expect(all.states.map((state) => state.name)).toEqual([
    ...[
      'guest',
      'ann',
      'bo',
      'cy',
      'ann idle-expired',
      'ann absolute-expired',
      'ann signed-out',
      'ann suspended',
      'ann removed',
    ],
  ]);
  expect(row(all, '/desk')).toMatchObject({
    guest: '/in',
    ann: 'shown',
    bo: 'shown',
    cy: '403',
    'ann suspended': '/in',
  });
  expect(row(all, '/in')).toMatchObject({ guest: 'shown', ann: '/desk', bo: '/safe', cy: '/' });
});

test('columns for roles have whoever holds none, and all who are shut out but hold something that still opens', () => {
  const { policy } = project(
    policyText({
      login: 'login: { page: /in, submit: POST /in, by: both }',
      pages: `${PAGES.slice(0, -2)}, /api/x: { for: [clerk], kind: api }, /api/own/:who: { for: { account: who }, kind: api } }`,
      more: 'tokens: { access: { life: 5m }, submit: POST /token }',
    }),
  );
  if (policy === null) throw new Error('no policy');
  const all = gridOf(policy, 'GET', 'roles');
  expect(row(all, '/api/x')).toMatchObject({
    guest: '401',
    'role clerk': 'shown',
    'without a role': '403',
    'role clerk suspended': 'shown',
    'role chief removed': 'shown',
    'without a role removed': '403',
  });
  // What is one's own stays so for whoever was taken away.
  expect(row(all, '/api/own/:who')).toMatchObject({
    'role clerk removed': 'shown',
    'anybody signed-out': '401',
  });
});

test('whoever holds nothing that counts is alike to every policy, whatever the role', () => {
  const read = ['sound', 'faults'].flatMap((folder) => {
    const files = readdirSync(join(EXAMPLES, folder)).filter((name) => name.endsWith('.yaml'));
    return files.map((name) => project(readFileSync(join(EXAMPLES, folder, name), 'utf8')).stage);
  });
  const compared = [...SHIPPED.map((name) => shipped(name).stage), ...read].map(comparedAlike);
  expect(compared.slice(0, 2).every((cells) => cells > 200)).toBe(true);
  expect(compared.reduce((all, cells) => all + cells)).toBeGreaterThan(2000);
});

/** Holds whoever holds nothing to be alike; how many cells were looked at. */
function comparedAlike(stage: Stage): number {
  let compared = 0;
  for (const condition of CONDITIONS.slice(1)) {
    const states = roleStates(stage, stage.app.policy.roles.values(), [condition]);
    const shut = states.filter(({ login }) => !holdsAnything(stage, login));
    for (const method of ['GET', 'POST'] as const) {
      for (const { page, cells } of rowsOf(stage, shut, method)) {
        expect([condition, page, new Set(cells).size]).toEqual([condition, page, Math.min(1, shut.length)]);
        compared += cells.length;
      }
    }
  }
  return compared;
}

test('accounts of a kind are one state; pages of an owner are told apart from those of others', () => {
  const all = grid({
    accounts:
      'accounts: { ann: { password: a-1, roles: [clerk] }, al: { password: a-2, roles: [clerk] }, x: { password: b-2, roles: [chief] } }',
    pages: `${PAGES.slice(0, -2)}, /box/:who: { for: { account: who } } }`,
  });
  expect(all.states.slice(0, 3)).toEqual([
    { name: 'guest', condition: null, alike: [] },
    { name: 'ann', condition: null, alike: ['al'] },
    { name: 'x', condition: null, alike: [] },
  ]);
  expect(row(all, '/box/:who')).toMatchObject({ guest: '/in', ann: 'shown', x: 'shown' });
  expect(row(all, "/box/:who (another's)")).toMatchObject({ guest: '/in', ann: '403', x: '403' });
});

test('writing is tried apart from reading, an api by script, and a loop is told', () => {
  const parts: Parts = {
    login: 'login: { page: /in, submit: POST /in, by: both, attempts: { most: 5, within: 5m, pause: 5m } }',
    pages: `${PAGES.slice(0, -2)}, /a: { read: signed-in, write: chief }, /api: { for: clerk, kind: api }, /round: { for: everyone, forward: [{ otherwise: /round }] } }`,
    more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
  };
  expect([row(grid(parts), '/a')['ann'], row(grid(parts, 'POST'), '/a')['ann']]).toEqual(['shown', '403']);
  expect(row(grid(parts), '/api')).toMatchObject({ guest: '401', cy: '403', 'ann access-expired': 'shown' });
  expect(row(grid(parts), '/round')['guest']).toBe('redirect-loop');
});

test('only states that the policy can bring about are there', () => {
  const { stage, policy } = harbour();
  const reached = (account: string) => {
    const known = policy?.accounts.get(account);
    return CONDITIONS.filter((condition) => known && reach(stage, known, condition) !== null);
  };
  const here = CONDITIONS.filter((condition) => condition !== 'by-provider' && condition !== 'acting');
  expect(reached('wanda')).toEqual(here);
  expect(reached('ines')).toEqual(here.filter((condition) => condition !== 'code-owed'));
  expect(reached('otto')).toEqual([]);
});

describe('an agreed table', () => {
  const compare = (text: string) => compareGrid(grid(), sourceOf('t.csv', text));

  test('that was saved differs in nothing', () => {
    expect(compare(gridCsv(grid()))).toMatchObject({ differences: [], compared: 45 });
  });

  test('may be written by hand: some states, cells left empty, as a spreadsheet saves it', () => {
    const text =
      '\ufeffpage;ann;guest\r\n/;shown;\r\n/in; /desk ;shown\r\n/desk;403;/in\r\n\r\n/safe;;\r\n/hall;"shown";/in\r\n';
    expect(compare(text)).toMatchObject({
      differences: [
        { page: '/desk', state: 'ann', agreed: '403', actual: 'shown' },
        // Whom nobody agreed on is a difference, as a page is.
        { page: null, state: 'bo' },
        { page: null, state: 'cy' },
        ...['ann idle-expired', 'ann absolute-expired', 'ann signed-out', 'ann suspended'].map((state) => ({
          state,
        })),
        { state: 'ann removed' },
      ],
      compared: 7,
    });
  });

  test('has to have every page: one that nobody agreed on is a difference', () => {
    const result = compare('page,ann\n/,shown\n/in,/desk\n/desk,shown\n/safe,403\n');
    expect('differences' in result && result.differences.filter(({ page }) => page !== null)).toMatchObject([
      { page: '/hall', state: null },
    ]);
  });

  test.each([
    ['', 'the first line has the columns: page, then the login states'],
    ['page,anne\n', 'the policy has no login state anne'],
    ['page,ann,ann\n', 'two columns are called ann'],
    ['page,ann\n/desc,shown\n', 'the policy has no page /desc'],
    ['page,ann\n/desk,yes\n', 'yes at /desk says nothing'],
    ['page,ann\n"/desk,shown\n', 'not valid CSV: Quoted field unterminated'],
  ])('%j is refused', (text, message) => {
    const result = compare(text);
    expect('differences' in result ? [] : result.map((fault) => fault.message)).toContain(message);
  });
});

test('a machine, whoever acts for somebody and whoever came in by a provider have columns of their own', () => {
  const states = grid({
    accounts:
      'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief], second-factor: true }, bot: { key: true, roles: [clerk] } }',
    pages: `${PAGES.slice(0, -2)}, /porch: { for: signed-in }, /c: { for: guests }, /me: { for: { any: [clerk], second-factor: true } } }`,
    more: [
      'second-factor: { page: /c, submit: POST /c, life: 5m }',
      'api-keys: { life: 90d }',
      'impersonation: { start: POST /as/:who, stop: POST /back, by: [chief], of: [clerk], not: /hall }',
      'identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example, bo: b@id.example }, code: given } }',
    ].join('\n'),
  });
  expect(row(states, '/safe')).toMatchObject({ bot: '403', 'bo acting': '403' });
  // Of two pages for the same people one is closed to whoever acts.
  expect(row(states, '/porch')).toMatchObject({ 'bo acting': 'shown' });
  expect(row(states, '/hall')).toMatchObject({
    bot: 'shown',
    'bo acting': '403',
    'ann by-provider': 'shown',
  });
  expect(row(states, '/in')).toMatchObject({ bot: '/desk', 'bo acting': '/desk' });
  // The code that was given at the login counts on.
  expect(row(states, '/me')).toMatchObject({ 'bo acting': 'shown', 'ann by-provider': '/c', bot: '/c' });
});

test.each(SHIPPED)('pages of %s that share a row are the same for everybody, one by one', (name) => {
  const { stage } = shipped(name);
  const { policy, router } = stage.app;
  const states = statesOf(stage);
  const rows = rowsOf(stage, states, 'GET');
  let compared = 0;
  for (const { pattern } of policy.pages) {
    const row = rows.find(({ page }) => page === pattern.text);
    for (const [at, { name: state, login }] of states.entries()) {
      const account = login.state.accounts.get(login.account ?? '');
      const who = { account: account?.name ?? 'x', facts: account?.facts ?? new Map<string, string[]>() };
      const alone = cellAt(stage, login, 'GET', ownAddress(router, pattern, who));
      expect([state, pattern.text, row?.cells[at]]).toEqual([state, pattern.text, alone]);
      compared += 1;
    }
  }
  expect(compared).toBeGreaterThan(100);
});

import { compareAccess } from '../../../src/core/diff/access';
import { policyText, project } from '../../support/policies';

type Parts = Parameters<typeof policyText>[0];

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }';
const HALL = PAGES.replace('/hall: { for: signed-in }', '/hall: {}');

describe('what a change of policy changes', () => {
  const diff = (parts: Parts) => {
    const [before, after] = [project(policyText()).policy, project(policyText(parts)).policy];
    if (before === null || after === null) throw new Error('no policy');
    return compareAccess(before, after);
  };

  test('nothing, under the same policy', () => {
    expect(diff({})).toMatchObject({ changes: [], onlyBefore: [], onlyAfter: [] });
  });

  test('a role that strangers can give themselves is access, told by the pages that it opens', () => {
    const joining = (role: string) =>
      policyText({
        pages: PAGES.replace(' }', ' }, /join: { for: guests }'),
        more: `sign-up: { page: /join, submit: POST /join, roles: [${role}], then: login }`,
      });
    const [before, after] = [project(joining('clerk')).policy, project(joining('chief')).policy];
    if (before === null || after === null) throw new Error('no policy');
    const { changes } = compareAccess(before, after);
    const widened = changes.flatMap(({ kind, state, page }) =>
      kind === 'widened' ? `${state} ${page}` : [],
    );
    expect(widened).toEqual(['whoever signs up /safe']);
  });

  const OPS =
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /ops: {}, /ops/stats: {} }';
  const FROM =
    'rules: [{ path: /ops/stats, from: [10.0.0.0/8], for: everyone }, { path: /ops/**, for: [chief] }]';
  const PUT = 'rules: [{ path: /ops/stats, methods: PUT, for: signed-in }, { path: /ops/**, for: [chief] }]';
  const swapped = (rules: string) => rules.replace(/\[(\{.*?\}), (\{.*\})\]$/, '[$2, $1]');
  test.each([
    [
      'a network that grows',
      FROM,
      FROM.replace('/8', '/7'),
      ['GET+POST guest from 11.255.255.255 /ops/stats'],
    ],
    [
      'a rule for a network that comes first',
      swapped(FROM),
      FROM,
      ['GET+POST guest from 10.0.0.0 /ops/stats'],
    ],
    ['a rule for a method that comes first', swapped(PUT), PUT, ['PUT role clerk /ops/stats']],
    ['a rule for a method that goes last', PUT, swapped(PUT), []],
  ])('%s is told by what it opens', (_, was, is, widened) => {
    const [before, after] = [was, is].map((more) => project(policyText({ pages: OPS, rules: more })).policy);
    if (!before || !after) throw new Error('no policy');
    const told = compareAccess(before, after).changes.flatMap(({ kind, method, state, page }) =>
      kind === 'widened' ? `${method ?? 'GET+POST'} ${state} ${page}` : [],
    );
    expect(told).toEqual(expect.arrayContaining(widened));
    expect(told.length > 0).toBe(widened.length > 0);
  });

  test('is told once, and widened access apart from narrowed', () => {
    const { changes } = diff({
      pages: PAGES.replace('/desk: { for: [clerk] }', '/desk: { read: signed-in, write: [chief] }'),
    });
    expect(changes).toEqual([
      {
        method: 'GET',
        page: '/desk',
        state: 'without a role',
        before: '403',
        after: 'shown',
        kind: 'widened',
      },
      {
        method: 'POST',
        page: '/desk',
        state: 'role clerk',
        before: 'shown',
        after: '403',
        kind: 'narrowed',
      },
    ]);
  });

  test("compares one's own and another's page where only one of the policies tells them apart", () => {
    const box = (audience: string) => ({ pages: `${PAGES.slice(0, -2)}, /box/:who: { for: ${audience} } }` });
    const [before, after] = ['{ account: who }', 'signed-in'].map(
      (each) => project(policyText(box(each))).policy,
    );
    const changes = before && after ? compareAccess(before, after).changes : [];
    expect(changes.map(({ page, state, before: was, after: is }) => [page, state, was, is])).toEqual(
      ['role clerk', 'role chief', 'without a role'].map((state) => [
        "/box/:who (another's)",
        state,
        '403',
        'shown',
      ]),
    );
  });

  test('has pages that come and go, and moved landings', () => {
    const { changes } = diff({
      pages: `${PAGES.replace(', /safe: { for: [chief] }', '').slice(0, -2)}, /new: { for: signed-in } }`,
      landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
    });
    expect(changes).toContainEqual({
      method: null,
      page: '/safe',
      state: 'role chief',
      before: 'shown',
      after: null,
      kind: 'narrowed',
    });
    expect(changes).toContainEqual({
      method: null,
      page: '/new',
      state: 'guest',
      before: null,
      after: '/in',
      kind: 'moved',
    });
    expect(changes).toContainEqual({
      method: null,
      page: '/in',
      state: 'role chief',
      before: '/safe',
      after: '/desk',
      kind: 'moved',
    });
  });

  const between = (before: string, after: string) => {
    const [was, is] = [before, after].map((text) => project(text).policy);
    if (!was || !is) throw new Error('no policy');
    return compareAccess(was, is);
  };

  test('a shorter session widens nothing, though what has run out is seen at another time', () => {
    const tokens = (idle: string) =>
      policyText({
        login: 'login: { page: /in, submit: POST /in, by: both }',
        session: `session: { idle: ${idle}, absolute: 8h }`,
        pages: `${PAGES.slice(0, -2)}, /api/x: { for: [clerk], kind: api } }`,
        more: 'tokens: { access: { life: 5m }, refresh: { life: 45m }, submit: POST /token }',
      });
    expect(between(tokens('1h'), tokens('30m')).changes).toEqual([]);
    expect(between(tokens('30m'), tokens('1h')).changes).toEqual([]);
  });

  test('what guests saw already is widened to nobody', () => {
    const { changes } = diff({ pages: PAGES.replace('/in: { for: guests }', '/in: { for: everyone }') });
    expect(changes.length).toBeGreaterThan(0);
    expect(new Set(changes.map(({ kind }) => kind))).toEqual(new Set(['moved']));
  });

  test('a wider network is seen from the addresses that it gains', () => {
    const screens = (from: string) =>
      policyText({ rules: `rules: [{ path: /hall, from: ${from}, for: everyone }]`, pages: HALL });
    const { changes } = between(screens('10.20.0.0/16'), screens('10.0.0.0/8'));
    expect(changes.map(({ state, kind }) => [state, kind])).toContainEqual([
      'guest from 10.0.0.0',
      'widened',
    ]);
    expect(changes.map(({ state }) => state)).not.toContain('guest from 10.20.0.0');
    expect(between(screens('10.0.0.0/8'), screens('10.20.0.0/16')).changes).toContainEqual(
      expect.objectContaining({ state: 'guest from 10.255.255.255', kind: 'narrowed' }),
    );
  });

  test('roles count whether or not somebody holds them, and new people tell what they open', () => {
    const old = policyText({ roles: 'roles: { clerk: [], chief: [clerk], idler: [] }' });
    const { changes } = between(
      old,
      old.replace('/desk: { for: [clerk] }', '/desk: { for: [clerk, idler] }'),
    );
    expect(changes).toEqual([expect.objectContaining({ state: 'role idler', kind: 'widened' })]);
    const more = old
      .replace('idler: []', 'idler: [], boss: [chief]')
      .replace('cy: {', 'di: { password: d-4, roles: [chief] }, cy: {');
    expect(between(old, more)).toMatchObject({
      changes: [],
      onlyBefore: [],
      onlyAfter: [
        { state: 'role boss', opens: ['/desk', '/safe', '/hall'] },
        { state: 'di', opens: ['/desk', '/safe', '/hall'] },
      ],
    });
  });
});

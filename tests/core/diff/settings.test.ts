import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parse, stringify } from 'yaml';
import type { Direction } from '../../../src/core/vocabulary/direction';
import { settingChanges } from '../../../src/core/diff/settings/policy-settings';
import type { Policy } from '../../../src/core/language/policy';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { sourceOf } from '../../../src/core/language/text/source';
import { readProject } from '../../../src/core/walks/project';
import { EXAMPLES, policyText, project } from '../../support/policies';

beforeAll(loadRegularLanguages);

function read(text: string): Policy | null {
  const { policy, diagnostics } = readProject(sourceOf('cavrin.yaml', text), []);
  return diagnostics.some(({ severity }) => severity === 'error') ? null : policy;
}

const REST =
  'second-factor: { page: /c, submit: POST /c, life: 5m, tries: 3, of: [chief] }\nremember: { life: 30d, rotates: true }\ntokens: { access: { life: 5m }, refresh: { life: 1h, rotates: true }, submit: POST /token }\npromises: [{ after: logout, copied: access, works-at-most: 5m }]\naccepted: [{ check: guessing, because: known }]';
const TEXT = policyText({
  login:
    'login: { page: /in, submit: POST /in, by: both, return: { accept: same-origin }, attempts: { most: 5, within: 5m, pause: 5m } }',
  logout: 'logout: { submit: POST /out, ends: [session, refresh] }',
  session: 'session: { idle: 30m, absolute: 8h, cookie: { secure: true, same-site: lax } }',
  rules: 'rules: [{ path: /desk/**, for: [clerk] }, { path: /safe/**, for: [chief] }]',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /c: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }',
  more: REST,
});

describe('a setting that is another', () => {
  test.each<readonly [what: string, from: string, to: string, name: string, direction: Direction]>([
    ['a shorter session', 'idle: 30m', 'idle: 15m', 'session.idle', 'tightens'],
    ['a session without limit', ', absolute: 8h', '', 'session.absolute', 'loosens'],
    ['a cookie for plain http', 'secure: true', 'secure: false', 'session.cookie.secure', 'loosens'],
    [
      'a cookie that less sends',
      'same-site: lax',
      'same-site: strict',
      'session.cookie.same-site',
      'tightens',
    ],
    ['a longer token', 'access: { life: 5m }', 'access: { life: 1h }', 'tokens.access.life', 'loosens'],
    [
      'a refresh that stays',
      'life: 1h, rotates: true',
      'life: 1h, rotates: false',
      'tokens.refresh.rotates',
      'loosens',
    ],
    ['no refresh', ', refresh: { life: 1h, rotates: true }', '', 'tokens.refresh', 'tightens'],
    ['a logout that leaves more', 'ends: [session, refresh]', 'ends: [session]', 'logout.ends', 'loosens'],
    [
      'a logout that ends others',
      'ends: [session, refresh]',
      'ends: [session, access]',
      'logout.ends',
      'changes',
    ],
    ['more guesses', 'most: 5', 'most: 50', 'login.attempts.most', 'loosens'],
    ['a shorter pause', 'pause: 5m', 'pause: 1m', 'login.attempts.pause', 'loosens'],
    ['no lockout', ', attempts: { most: 5, within: 5m, pause: 5m }', '', 'login.attempts', 'loosens'],
    ['no second factor', REST.split('\n')[0] ?? '', '', 'second-factor', 'loosens'],
    ['a code of more people', 'of: [chief]', 'of: [chief, clerk]', 'second-factor.of', 'tightens'],
    ['a careless return', 'accept: same-origin', 'accept: leading-slash', 'login.return.accept', 'loosens'],
    [
      'a return to some pages',
      'accept: same-origin',
      'accept: { listed: [/desk] }',
      'login.return.accept',
      'tightens',
    ],
    ['a longer memory', 'life: 30d', 'life: 90d', 'remember.life', 'loosens'],
    [
      'a promise of less',
      'works-at-most: 5m',
      'works-at-most: 1h',
      'promise of a copied access after logout',
      'loosens',
    ],
    [
      'a finding that is kept',
      '[{ check: guessing, because: known }]',
      '[]',
      'accepted finding guessing',
      'tightens',
    ],
    ['a page for more', '/safe: { for: [chief] }', '/safe: { for: [clerk] }', 'page /safe: for', 'loosens'],
    [
      'a page for guests too',
      '/hall: { for: signed-in }',
      '/hall: { for: everyone }',
      'page /hall: for',
      'loosens',
    ],
    [
      'a page for others',
      '/hall: { for: signed-in }',
      '/hall: { for: guests }',
      'page /hall: for',
      'changes',
    ],
    [
      'a rule for fewer',
      '{ path: /desk/**, for: [clerk] }',
      '{ path: /desk/**, for: { any: [clerk], second-factor: true } }',
      'rule /desk/**: for',
      'tightens',
    ],
    [
      'rules in another order',
      '{ path: /desk/**, for: [clerk] }, { path: /safe/**, for: [chief] }',
      '{ path: /safe/**, for: [chief] }, { path: /desk/**, for: [clerk] }',
      'the order of rules',
      'changes',
    ],
    ['a landing', 'role: chief, to: /safe', 'role: chief, to: /hall', 'landing for chief', 'changes'],
    ['a role that holds more', 'clerk: []', 'clerk: [chief]', 'role clerk', 'loosens'],
  ])('%s', (_, from, to, name, direction) => {
    const changed = TEXT.replace(from, to).replace(
      'chief: [clerk]',
      from === 'clerk: []' ? 'chief: []' : 'chief: [clerk]',
    );
    expect(changed).not.toBe(TEXT);
    const [before, after] = [project(TEXT).policy, read(changed)];
    if (before === null || after === null) throw new Error('no policy');
    expect(settingChanges(before, after)).toContainEqual(expect.objectContaining({ name, direction }));
  });

  test('says both values and where each policy says them', () => {
    const [before, after] = [read(TEXT), read(TEXT.replace('idle: 30m, ', ''))];
    if (before === null || after === null) throw new Error('no policy');
    expect(settingChanges(before, after)).toEqual([
      {
        name: 'session.idle',
        before: { is: 'duration', seconds: 1800 },
        after: { is: 'duration', seconds: null },
        at: { before: ['session', 'idle'], after: ['session', 'idle'] },
        direction: 'loosens',
      },
    ]);
  });
});

/** Every place of a policy's text with a value that can be put otherwise, and the value. */
function* changesOf(
  value: unknown,
  path: readonly (string | number)[] = [],
): Generator<[typeof path, unknown]> {
  if (path.length > 0) yield [path, undefined];
  if (typeof value === 'boolean') yield [path, !value];
  if (typeof value === 'number') yield [path, value + 1];
  if (typeof value === 'string') yield [path, /^\d+[smhd]$/.test(value) ? `${value}1s` : `${value}x`];
  if (typeof value === 'object' && value !== null) {
    for (const [key, each] of Object.entries(value)) yield* changesOf(each, [...path, key]);
  }
}

function changedAt(value: unknown, [first, ...rest]: readonly (string | number)[], to: unknown): unknown {
  if (first === undefined) return to;
  if (Array.isArray(value)) {
    return value.flatMap((each: unknown, at) => {
      if (String(at) !== String(first)) return [each];
      return rest.length === 0 && to === undefined ? [] : [changedAt(each, rest, to)];
    });
  }
  return Object.fromEntries(
    Object.entries(value as Record<string, unknown>).flatMap(([key, each]) => {
      if (key !== String(first)) return [[key, each]];
      return rest.length === 0 && to === undefined ? [] : [[key, changedAt(each, rest, to)]];
    }),
  );
}

/** What a policy says, without where. */
function meaning(policy: Policy): string {
  return JSON.stringify(policy, (key, value: unknown) => {
    if (['at', 'number', 'language', 'form'].includes(key)) return undefined;
    if (value instanceof Map) return [...(value as Map<unknown, unknown>)];
    if (value instanceof Set) return [...(value as Set<unknown>)];
    return typeof value === 'bigint' ? String(value) : value;
  });
}

const SOUND = join(EXAMPLES, 'sound');
const OPPOSITES = { loosens: 'tightens', tightens: 'loosens', changes: 'changes' } as const;

test.each([
  'harbour/cavrin.yaml',
  'fennel-row/cavrin.yaml',
  ...readdirSync(SOUND).flatMap((name, at) => (at % 5 === 3 ? [`sound/${name}`] : [])),
])('nothing of %s can be put otherwise without being told, and the way back is the opposite', (name) => {
  const value: unknown = parse(readFileSync(join(EXAMPLES, name), 'utf8'));
  const before = read(stringify(value));
  if (before === null) throw new Error('no policy');
  const meant = meaning(before);
  let told = 0;
  for (const [path, to] of changesOf(value)) {
    const after = read(stringify(changedAt(value, path, to), { aliasDuplicateObjects: false }));
    if (after === null || meaning(after) === meant) continue;
    const changes = settingChanges(before, after);
    const back = settingChanges(after, before);
    expect([path, to, changes.length > 0]).toEqual([path, to, true]);
    expect([path, back.map(({ direction }) => OPPOSITES[direction]).sort()]).toEqual([
      path,
      changes.map(({ direction }) => direction).sort(),
    ]);
    told += 1;
  }
  expect(told).toBeGreaterThan(10);
});

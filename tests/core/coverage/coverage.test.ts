import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { coverageOf, type Coverage } from '../../../src/core/coverage/coverage';
import { proposalsFor } from '../../../src/core/coverage/propose';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { playSteps } from '../../../src/core/walks/runner';
import { EXAMPLES, policyText, project, shipped, SHIPPED } from '../../support/policies';

beforeAll(loadRegularLanguages);

function covered(steps: readonly string[], parts: Parameters<typeof policyText>[0] = {}): Coverage {
  const walk = `walks:\n  - name: test\n    steps:\n${steps.map((step) => `      - ${step}\n`).join('')}`;
  const { stage, input, walks } = project(policyText(parts), steps.length === 0 ? [] : [walk]);
  if (input === null) throw new Error('no input');
  return coverageOf(stage, input, walks);
}

/** The counts of each group, as `touched/all`. */
function counts({ groups }: Coverage): Record<string, string> {
  return Object.fromEntries(
    groups.map(({ group, items }) => [
      group,
      `${items.filter(({ times }) => times > 0).length}/${items.length}`,
    ]),
  );
}

function touched({ groups }: Coverage, group: string): string[] {
  const { items = [] } = groups.find((each) => each.group === group) ?? {};
  return items.filter(({ times }) => times > 0).map(({ subject, aspect }) => `${subject} ${aspect}`.trim());
}

describe('counts worked out by hand', () => {
  test('of a policy without walks', () => {
    expect(counts(covered([]))).toEqual({
      // Five pages by a guest and three kinds of accounts.
      pages: '0/20',
      // Three entries of the landing, and where a logout leads.
      landings: '0/4',
      // guest, guests-only, role, the two limits of a session, signed-out, wrong-password, locked-out, suspended,
      // account-gone, unknown-page and unsafe-return.
      reasons: '0/12',
      // The two limits of a session, and three of attempts, each on both sides.
      limits: '0/10',
      // The login, one with a wrong password, and the logout.
      'ways in and out': '0/3',
    });
  });

  test('of a walk: the login page by a guest, the landing by its entry, a refusal by its reason', () => {
    const found = covered(['{ login: ann }', '{ visit: /safe }', '{ logout: }']);
    expect(touched(found, 'pages')).toEqual([
      '/ asked for by a guest',
      '/in asked for by a guest',
      '/desk asked for by ann',
      '/safe asked for by ann',
    ]);
    expect(touched(found, 'landings')).toEqual([
      'the landing for clerk: /desk',
      'after the logout for whoever is left: /',
    ]);
    expect(touched(found, 'reasons').map((each) => each.split(':')[0])).toEqual(['role']);
    expect(touched(found, 'ways in and out')).toEqual([
      'the login (POST /in) taken',
      'the logout (POST /out) taken',
    ]);
    expect([found.touched, found.all]).toEqual([9, 49]);
  });
});

describe('a limit is touched just before and just past it, and no further off', () => {
  const session = { session: 'session: { idle: 1h, absolute: 8h }' };
  test.each<[string, string[], string[]]>([
    ['59m', ['wait: 59m'], ['session.idle just before 1h']],
    ['50m', ['wait: 50m'], []],
    ['1h', ['wait: 1h'], ['session.idle just past 1h']],
    ['2h', ['wait: 2h'], []],
    ['59m59s, 59m59s', ['wait: 59m59s', 'visit: /desk', 'wait: 59m59s'], ['session.idle just before 1h']],
  ])('%s', (_, waits, limits) => {
    const steps = ['{ login: ann }', ...waits.map((each) => `{ ${each} }`), '{ visit: /desk }'];
    expect(touched(covered(steps, session), 'limits')).toEqual(limits);
  });

  test('a wait alone touches none, and passwords are counted', () => {
    expect(
      touched(covered(['{ login: ann }', '{ wait: { past: session-idle } }'], session), 'limits'),
    ).toEqual([]);
    const wrong = '{ login: { as: ann, password: x } }';
    expect(touched(covered([wrong, wrong, wrong, wrong, '{ login: ann }']), 'limits')).toContain(
      'login.attempts.most the right password after 4 wrong ones',
    );
    expect(touched(covered([wrong, wrong, wrong, '{ login: ann }']), 'limits')).toEqual([]);
  });
});

test('parts are seen and hidden, barriers stop and let through, refusals are told by their place', () => {
  const parts = {
    accounts:
      'accounts: { ann: { password: a-1, roles: [clerk], facts: { terms: no } }, bo: { password: b-2, roles: [chief] } }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk], refusals: { guest: 401 }, parts: { note: { text: Note, for: [chief] } } }, /safe: { for: [chief] }, /terms: { for: signed-in, sets: { terms: accepted } } }',
    more: 'barriers: [{ name: terms, stops: { facts: { terms: no } }, sends: /terms, lets: [/terms] }]\nrefusals: { role: /desk }',
  };
  const some = covered(
    ['{ visit: /desk, status: 401, lands: /desk }', '{ login: bo }', '{ visit: /desk }'],
    parts,
  );
  expect(counts(some)).toMatchObject({ parts: '1/2', barriers: '0/2', refusals: '1/2' });
  const more = covered(['{ login: ann, lands: /terms }', '{ visit: /terms }'], parts);
  expect(counts(more)).toMatchObject({ parts: '0/2', barriers: '2/2', refusals: '0/2' });
});

describe('proposed walks', () => {
  const policies = [
    ...SHIPPED.map((name) => [name, () => shipped(name)] as const),
    ...readdirSync(join(EXAMPLES, 'sound')).map(
      (name) => [name, () => project(readFileSync(join(EXAMPLES, 'sound', name), 'utf8'))] as const,
    ),
  ];

  test('come out as they say, and touch more; those for what nothing touches, almost all', () => {
    let [all, reached] = [0, 0];
    for (const [name, open] of policies) {
      const { stage, input, walks } = open();
      if (input === null) throw new Error('no input');
      for (const there of [walks, []]) {
        const before = coverageOf(stage, input, there);
        const proposed = proposalsFor(stage, input, there);
        const after = coverageOf(stage, input, [...there, ...proposed]);
        for (const { steps } of proposed) {
          expect([name, playSteps(stage, steps).passed]).toEqual([name, true]);
        }
        expect([name, after.touched - before.touched >= proposed.length]).toEqual([name, true]);
        if (there.length > 0) continue;
        all += after.all;
        reached += after.touched;
      }
    }
    expect(reached / all).toBeGreaterThan(0.97);
  });

  test('are as few and short as can be found: what one visit touches takes one step', () => {
    const { stage, input } = project(
      'cavrin: 1\napp: Test\norigin: https://app.example\npages: { /: { for: everyone } }\n',
    );
    if (input === null) throw new Error('no input');
    const proposed = proposalsFor(stage, input, []);
    expect(
      proposed.map(({ steps }) => steps.map(({ action, expects }) => [action.verb, expects.lands])),
    ).toEqual([[['visit', '/']], [['visit', '/there-is-no-such-page']]]);
  });
});

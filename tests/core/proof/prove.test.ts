import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sourceOf } from '../../../src/core/language/text/source';
import { loadProject } from '../../../src/core/walks/project';
import { goalsOf, lawOf, type Goal } from '../../../src/core/proof/search/goals';
import { ALONE, settleScene } from '../../../src/core/proof/prove';
import { keepScene, keptSceneSchema, readKeptScene } from '../../../src/core/proof/known/kept-scene';
import type { SceneOutcome } from '../../../src/core/proof/known/scene-outcome';
import { playSteps } from '../../../src/core/walks/runner';
import { stageOf, type Stage } from '../../../src/core/play/stage';
import { policyText, project } from '../../support/policies';

const FAULTS = join(__dirname, '..', '..', '..', 'examples', 'faults');
/** Who it takes to break a law; a person alone breaks most. */
const CASTS = [
  ALONE,
  { ...ALONE, administrator: true },
  { ...ALONE, tabs: 2 },
  { ...ALONE, account: 'ines', thief: true },
];

const settle = (stage: Stage, cast = ALONE, most = 5_000) =>
  settleScene(stage, { cast, most, withExposures: false }, () => false);

/** What came of a scene, written down and read again. */
function keptAndRead(stage: Stage, outcome: SceneOutcome): SceneOutcome | null {
  const kept = keptSceneSchema().parse(JSON.parse(JSON.stringify(keepScene(outcome))));
  return readKeptScene(stage, { cast: outcome.cast, most: 5_000, withExposures: false }, kept);
}

function broken({ findings }: SceneOutcome) {
  return [...findings].flatMap(([id, finding]) =>
    finding.verdict === 'broken' ? [{ id, by: finding.by }] : [],
  );
}

describe('the flaws of the examples are found, each with the shortest walk that breaks the law when it is played', () => {
  test.each(readdirSync(FAULTS))('%s', async (name) => {
    const { policy, walks } = await loadProject(sourceOf(name, readFileSync(join(FAULTS, name), 'utf8')), []);
    if (policy === null) throw new Error('no policy');
    const stage = stageOf(policy);
    const wanted = new Set(walks.flatMap(({ steps }) => steps.flatMap(({ expectBroken }) => expectBroken)));
    for (const cast of CASTS) {
      const outcome = await settle(stage, cast);
      for (const { id, by } of broken(outcome)) {
        const played = playSteps(stage, by.steps).steps;
        // A promise is shown by the law that walks are held to.
        const law = lawOf(goalsOf(policy).find((goal) => goal.id === id) as Goal);
        expect(played.at(-1)?.broken.map((each) => each.law)).toContain(law);
        // No walk that a person wrote is shorter than the shortest, waits left out.
        for (const { steps } of walks) {
          const isSame = steps.some(({ expectBroken }) => expectBroken.some((law) => law === id));
          const own = steps.filter(({ action }) => action.verb !== 'wait').length;
          if (isSame) expect(by.moves).toBeLessThanOrEqual(own);
        }
        wanted.delete(id as never);
      }
      expect([...outcome.findings.values()].filter(({ verdict }) => verdict === 'open')).toEqual([]);
      expect(keptAndRead(stage, outcome)).toEqual(outcome);
      if (wanted.size === 0) break;
    }
    expect([...wanted]).toEqual([]);
  });
});

test.each([
  ['an idle and an absolute limit', 'session: { idle: 4h, absolute: 8h }'],
  ['an idle limit alone', 'session: { idle: 30m }'],
  ['an absolute limit alone, days long', 'session: { absolute: 14d, renews: never }'],
])('a sound policy with %s is settled, and nothing is found broken', async (_what, session) => {
  const { stage } = project(
    policyText({
      session,
      pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] } }',
      roles: 'roles: { clerk: [] }',
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk] } }',
      login:
        'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 1, within: 5m, pause: 5m } }',
      landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
      more: 'menu: [{ to: /, text: Home }, { to: /desk, text: Desk }, { to: /in, text: Log in }]',
    }),
  );
  const outcome = await settle(stage, { ...ALONE, thief: true, administrator: true });
  expect(new Set([...outcome.findings.values()].map(({ verdict }) => verdict))).toEqual(new Set(['holds']));
  expect(outcome.transitions).toBeGreaterThan(outcome.states);
});

test('a bound that was hit is told, not taken for settled', async () => {
  const { stage } = project(policyText());
  const { findings } = await settle(stage, { ...ALONE, thief: true, administrator: true }, 3);
  expect(new Set([...findings.values()].map(({ verdict }) => verdict))).not.toContain('holds');
  expect(findings.get('new-id')).toEqual({ verdict: 'open', because: 'the limit of 3 states was hit' });
});

describe('where a session can be renewed for ever', () => {
  const { stage } = project(
    policyText({
      roles: 'roles: {}',
      accounts: 'accounts: { ann: { password: a-1 } }',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /room: { for: signed-in }, /api/room: {} }',
      rules: 'rules: [{ path: /api/**, kind: api, for: signed-in }]',
      landing: 'landing: [{ otherwise: / }]',
      login: 'login: { page: /in, submit: POST /in, by: both, return: {} }',
      logout: 'logout: { submit: POST /out, ends: [session, access, refresh, remember] }',
      session: 'session: { idle: 30m }',
      more: [
        'remember: { life: 30d }',
        'tokens: { access: { life: 5m }, refresh: { life: 1h, rotates: true }, submit: POST /token }',
        'promises: [{ after: password-changed, copied: session, works-at-most: 5h }]',
      ].join('\n'),
    }),
  );

  test('the shortest walk to a promise that is broken late is found, however many moves it needs', async () => {
    const { findings } = await settle(stage, { ...ALONE, administrator: true }, 3_000);
    // Within thirty minutes each: the login, the new password, and one move more than ten.
    const by = expect.objectContaining({ moves: 12, seconds: 5 * 3600 }) as unknown;
    expect(findings.get('promise-kept')).toMatchObject({ verdict: 'broken', by });
    expect(findings.get('promise 1')).toMatchObject({ verdict: 'broken', by });
  });

  test('exposure bounds come to an end all the same', async () => {
    const job = { cast: ALONE, most: 3_000, withExposures: true };
    const outcome = await settleScene(stage, job, () => false);
    expect(keptAndRead(stage, outcome)).toEqual(outcome);
    const { exposures } = outcome;
    const lasting = (exposures ?? []).filter(({ ends }) => ends === null);
    expect(lasting.map(({ credential, event }) => `${credential} ${event}`)).toEqual([
      'session copied',
      'session password-changed',
      'refresh copied',
      'refresh password-changed',
      'remember copied',
      'remember password-changed',
    ]);
    expect((exposures ?? []).every(({ isAttained }) => isAttained)).toBe(true);
  });
});

test('pages that two tabs can show again do not multiply', async () => {
  const { stage } = project(
    policyText({
      roles: 'roles: { clerk: [] }',
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk] } }',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /hall: { for: signed-in } }',
      landing: 'landing: [{ otherwise: / }]',
      more: 'back-button: cached',
    }),
  );
  const { findings, states } = await settle(stage, { ...ALONE, tabs: 2 });
  expect([...findings.values()].filter(({ verdict }) => verdict === 'open')).toEqual([]);
  expect(findings.get('logout-final')?.verdict).toBe('broken');
  expect(states).toBeLessThan(1_000);
});

describe('promises', () => {
  const TOKENS = 'tokens: { access: { life: 5m }, refresh: { life: 1h } }';
  const BOTH = {
    login: 'login: { page: /in, submit: POST /in, by: both }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /hall: { for: signed-in }, /api/a: { for: clerk, kind: api } }',
  };
  const ADMIN = { ...ALONE, administrator: true };

  test.each([
    ['{ only: [clerk], reach: /desk }', ALONE, 'holds'],
    ['{ only: [chief], reach: /desk }', ALONE, 2],
    // Nobody listed this address: a rule opens it.
    ['{ only: [chief], reach: /open/** }', ALONE, 1],
    ['{ every: signed-in, reach: /hall, within-steps: 1 }', ALONE, 'holds'],
    ['{ every: signed-in, reach: /desk, within-steps: 2 }', ALONE, 2],
    ['{ after: logout, copied: session, works-at-most: 0s }', ALONE, 'holds'],
    ['{ after: logout, copied: access, works-at-most: 5m }', ALONE, 'holds'],
    ['{ after: logout, copied: access, works-at-most: 4m59s }', ALONE, 2],
    ['{ after: logout, access-lasts-at-most: 4m59s }', ALONE, 2],
    ['{ after: role-removed, access-lasts-at-most: 5m }', ADMIN, 'holds'],
    ['{ after: role-removed, access-lasts-at-most: 4m59s }', ADMIN, 3],
    ['{ after: role-removed, copied: session, works-at-most: 0s }', ADMIN, 'holds'],
    ['{ after: suspended, access-lasts-at-most: 4m }', ADMIN, 3],
    ['{ after: suspended, copied: access, works-at-most: 5m }', ADMIN, 'holds'],
    ['{ after: password-changed, copied: access, works-at-most: 5m }', ADMIN, 'holds'],
    ['{ after: password-changed, access-lasts-at-most: 20m }', ADMIN, 2],
  ])('%s', async (promise, cast, expected) => {
    const { stage } = project(
      policyText({
        ...BOTH,
        pages: BOTH.pages.replace(' }', ' }, /open/:id: {}'),
        rules: 'rules: [{ path: /open/**, for: everyone }]',
        more: `${TOKENS}\npromises: [${promise}]`,
        landing: 'landing: [{ otherwise: / }]',
      }),
    );
    const { findings } = await settle(stage, cast);
    const finding = findings.get('promise 1');
    expect(finding?.verdict === 'broken' ? finding.by.moves : finding?.verdict).toBe(expected);
  });
});

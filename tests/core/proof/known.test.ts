import { ALONE, castsOf, settleScene } from '../../../src/core/proof/prove';
import { keepScene, readKeptScene } from '../../../src/core/proof/known/kept-scene';
import { sceneMatter } from '../../../src/core/proof/known/scene-matter';
import type { Job } from '../../../src/core/proof/known/scene-outcome';
import { policyText, project } from '../../support/policies';

const PARTS = {
  roles: 'roles: { clerk: [], chief: [clerk] }',
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief], second-factor: true } }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /files/:owner: { for: { account: owner } } }',
  login: 'login: { page: /in, submit: POST /in }',
  logout: 'logout: { submit: POST /out, ends: [] }',
  more: 'second-factor: { page: /code, submit: POST /code, life: 5m }',
};

/** A change of the policy, and the scenes, by what they are of, whose results it leaves as they are. */
const CHANGES: readonly (readonly [what: string, from: string, to: string, untouched: readonly string[]])[] =
  [
    ['another name of the app', 'app: Test', 'app: Another', ['all', 'ann', 'bo']],
    ['a comment', 'app: Test', '# a test\napp: Test', ['all', 'ann', 'bo']],
    [
      'a finding that is owned up to',
      'app: Test',
      'app: Test\naccepted: [{ check: logout-ends-too-little, because: so }]',
      ['all', 'ann', 'bo'],
    ],
    ['a password', 'b-2', 'b-3', ['ann']],
    [
      'what an account holds',
      'roles: [chief], second-factor: true',
      'roles: [clerk], second-factor: true',
      ['ann'],
    ],
    ['an account more', 'bo: {', 'cy: { password: c-3, roles: [clerk] }, bo: {', []],
    ['an account that is alike', 'bo: {', 'cy: { password: c-3 }, bo: {', []],
    ['a page', '/desk: { for: [clerk] }', '/desk: { for: [chief] }', []],
    [
      'the order of pages',
      '/: { for: everyone }, /in: { for: guests }',
      '/in: { for: guests }, /: { for: everyone }',
      [],
    ],
    ['a limit', 'idle: 30m', 'idle: 31m', []],
    ['the logout', 'ends: []', 'ends: [session]', []],
    [
      'a promise',
      'second-factor: { page',
      'promises: [{ only: [clerk], reach: /desk }]\nsecond-factor: { page',
      [],
    ],
  ];

const jobsOf = (text: string) => {
  const read = project(text);
  const casts = castsOf(read.stage, null);
  const jobs = casts.map((cast): Job => ({ cast, most: 5_000, withExposures: cast === ALONE }));
  return { ...read, jobs };
};
const settle = (text: string, at: number) => {
  const { stage, jobs } = jobsOf(text);
  return settleScene(stage, jobs[at] as Job, () => false);
};
const matters = (text: string) => {
  const { jobs, policy, input } = jobsOf(text);
  return jobs.map((job) => sceneMatter(job, policy as never, input?.value));
};
const whose = ({ cast: { account } }: Job) => account ?? 'all';

test.each(CHANGES)('%s', async (_what, from, to, untouched) => {
  const before = policyText(PARTS);
  const after = before.replace(from, to);
  expect(after).not.toBe(before);
  const known = matters(before);
  const { jobs } = jobsOf(after);
  const same = matters(after).map((matter) => known.indexOf(matter));
  const kept = new Set(jobs.filter((_, at) => (same[at] ?? -1) >= 0).map(whose));
  expect([...kept].sort()).toEqual([...untouched].sort());
  // Where as much matters as before, as much comes of it.
  for (const [at, was] of same.entries()) {
    const job = jobs[at] as Job;
    if (was < 0 || job.cast.administrator) continue;
    expect(keepScene(await settle(after, at))).toEqual(keepScene(await settle(before, was)));
  }
});

describe('what was written down of a scene', () => {
  const { stage } = project(policyText(PARTS));
  const job: Job = { cast: { ...ALONE, account: 'ann' }, most: 5_000, withExposures: false };

  test('is not told where its walk does not break what it says', async () => {
    const kept = keepScene(await settleScene(stage, job, () => false));
    const broken = kept.findings.find(({ verdict }) => verdict === 'broken');
    expect(broken?.goal).toBe('logout-final');
    const mended = project(
      policyText({ ...PARTS, logout: 'logout: { submit: POST /out, ends: [session] }' }),
    );
    expect(readKeptScene(stage, job, kept)).not.toBeNull();
    expect(readKeptScene(mended.stage, job, kept)).toBeNull();
  });

  test.each([
    ['a goal that there is not', { goal: 'no-such-law', verdict: 'holds' as const }],
    [
      'a walk that cannot be read',
      {
        goal: 'logout-final',
        verdict: 'broken' as const,
        walks: [{ miss: 'logout-final x', steps: [{ fly: 'away' }] }],
        others: [],
      },
    ],
    [
      'a walk of somebody unknown',
      {
        goal: 'logout-final',
        verdict: 'broken' as const,
        walks: [{ miss: 'logout-final x', steps: [{ login: { as: 'eve' } }] }],
        others: [],
      },
    ],
  ])('is not taken with %s', async (_what, finding) => {
    const kept = keepScene(await settleScene(stage, job, () => false));
    expect(readKeptScene(stage, job, { ...kept, findings: [finding] })).toBeNull();
  });
});

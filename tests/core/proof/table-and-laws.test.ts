import fc from 'fast-check';
import { ALONE, settleScene, verdictsOf } from '../../../src/core/proof/prove';
import type { Cast } from '../../../src/core/proof/choices/cast';
import { policyText, project } from '../../support/policies';

const some = fc.constantFrom;

/** Policies with hosts, remembering, tokens, changed passwords, links and acting, each careful or not, that promise nothing. */
const policies = fc
  .record({
    by: some('session', 'session', 'both'),
    kept: some('page', 'tab', 'browser'),
    of: some('shown', 'login', 'account'),
    ends: fc.subarray(['session', 'refresh', 'remember', 'access'], { minLength: 2 }),
    remember: fc.option(some('rotates: true', 'rotates: false')),
    hosts: some(false, false, false, true),
    roles: some('each-request', 'at-login'),
    own: fc.option(some('renews', 'keeps', 'ends')),
    left: fc.option(some('session', 'refresh', 'remember')),
    links: fc.boolean(),
    acting: fc.option(some('session', 'account'), { freq: 3 }),
    forged: some(false, false, false, true),
  })
  // All of it together takes far longer than the rest.
  .map((each) =>
    each.acting === null
      ? { ...each, remember: each.by === 'both' ? null : each.remember }
      : { ...each, by: 'session', hosts: false, remember: null, links: false, forged: false },
  )
  .map((each) => {
    const hasTokens = each.by === 'both';
    const handed = [
      'session',
      ...(hasTokens ? ['access', 'refresh'] : []),
      ...(each.remember === null ? [] : ['remember']),
    ];
    const ends = each.ends.filter((what) => handed.includes(what));
    const ofPassword = handed.filter((what) => what !== each.left);
    return policyText({
      origin: each.hosts
        ? 'origin: https://a.app.example\nhosts: [b.app.example]'
        : 'origin: https://app.example',
      roles: 'roles: { clerk: [], agent: [] }',
      accounts: `accounts: { ann: { password: a-1, roles: [clerk] }${each.acting === null && !each.forged ? '' : ', wes: { password: w-1, roles: [agent] }'} }`,
      pages: `pages: { /: { for: everyone }, /in: { for: guests }, /me: { for: signed-in }, /desk: { for: clerk }${hasTokens ? ', /api/a: { for: clerk, kind: api }' : ''} }`,
      login: `login: { page: /in, submit: POST /in, by: ${each.by} }`,
      landing: 'landing: [{ otherwise: / }]',
      logout: `logout: { submit: POST /out, of: ${each.of}, ends: [${ends.join(', ')}] }`,
      session: `session: { idle: 3s, absolute: 6s, roles: ${each.roles} }`,
      more: [
        // Another site logs somebody in over what is held of another account.
        each.forged ? 'csrf: { token: absent, origin: ignored }' : '',
        hasTokens
          ? `tokens: { access: { life: 2s, kept: ${each.kept} }, refresh: { life: 4s, longest: 6s } }`
          : '',
        each.remember === null
          ? ''
          : `remember: { life: 5s, ${each.remember}, cookie: { domain: app.example } }`,
        each.own === null
          ? ''
          : `password: { change: { page: /me, submit: POST /me }, own: ${each.own}, ends: [${ofPassword.join(', ')}] }`,
        each.links && each.own === null
          ? 'link-login: { page: /in, submit: POST /mail, link: /by/:token, life: 2s }'
          : '',
        each.acting === null
          ? ''
          : `impersonation: { start: POST /as/:clerk, stop: POST /as-myself, by: agent, of: clerk, life: 3s, kept: ${each.acting} }`,
      ].join('\n'),
    });
  });

/** Who is looked at beside a person with every account. */
function beside(account: string): Cast[] {
  const of = { ...ALONE, account };
  return [
    { ...of, thief: true },
    { ...of, administrator: true },
    { ...of, tabs: 2 },
  ];
}

/** Ends what has not come to its end after so many turns. */
function patience(): () => boolean {
  let turns = 100;
  return () => turns-- <= 0;
}

/** The events of the exposure table that a law with an event is about. */
const LAWS = {
  'logout-final': ['logout'],
  'password-final': ['password-changed'],
  'right-audience': ['role-removed', 'suspended'],
} as const;

test('a password that somebody else changes in the same browser says nothing of a copy', async () => {
  const { stage } = project(
    policyText({
      roles: 'roles: { clerk: [], agent: [] }',
      accounts:
        'accounts: { ann: { password: a-1, roles: [clerk] }, wes: { password: w-1, roles: [agent] } }',
      pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /me: { for: signed-in } }',
      login: 'login: { page: /in, submit: POST /in }',
      landing: 'landing: [{ otherwise: / }]',
      session: 'session: { idle: 3s, absolute: 6s }',
      more: 'csrf: { token: absent, origin: ignored }\nremember: { life: 5s, rotates: true }\npassword: { change: { page: /me, submit: POST /me } }',
    }),
  );
  const { exposures } = await settleScene(
    stage,
    { cast: ALONE, most: 600, withExposures: true },
    () => false,
  );
  const found = exposures?.find(
    ({ credential, event }) => credential === 'remember' && event === 'password-changed',
  );
  expect(found).toMatchObject({ ends: 0, isAttained: true });
}, 300_000);

test('a law with an event is broken just where the exposure table of the same policy has a time after it', async () => {
  const seen = { broken: 0, holds: 0 };
  await fc.assert(
    fc.asyncProperty(policies, async (text) => {
      const { stage } = project(text);
      const casts = [ALONE, ...[...stage.app.policy.accounts.keys()].flatMap(beside)];
      const outcomes = await Promise.all(
        casts.map((cast) =>
          settleScene(stage, { cast, most: 150, withExposures: cast === ALONE }, patience()),
        ),
      );
      const exposures = outcomes[0]?.exposures;
      // A scene that takes far longer than the others says nothing here.
      if (!exposures) return;
      expect(exposures.length).toBeGreaterThan(0);
      const verdicts = verdictsOf(stage.app.policy, casts, outcomes, 'it took too long');
      for (const [law, events] of Object.entries(LAWS)) {
        const { goal, finding } = verdicts.find((each) => each.goal.id === law) ?? {};
        // A law that is not asked says nothing, and one that is not settled says so.
        if (goal?.lacks !== null || finding === undefined || finding.verdict === 'open') continue;
        const told = exposures.filter(
          ({ event, ends }) => events.some((each) => each === event) && (ends === null || ends > 0),
        );
        const rows = told.map(({ credential, event, ends }) => `${credential} ${event} ${String(ends)}`);
        expect([text, law, finding.verdict, rows]).toEqual([
          text,
          law,
          rows.length > 0 ? 'broken' : 'holds',
          rows,
        ]);
        seen[finding.verdict] += 1;
      }
    }),
    { numRuns: Number(process.env['TABLE_RUNS'] ?? 6) },
  );
  expect(Math.min(seen.broken, seen.holds)).toBeGreaterThan(2);
}, 3_000_000);

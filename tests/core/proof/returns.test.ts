import { ALONE, settleScene, verdictsOf } from '../../../src/core/proof/prove';
import { policyText, project } from '../../support/policies';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /tickets: { for: signed-in }, /home: { for: signed-in } }';
const KEPT = '{ kept: session, carried-over: false }';

// Both pages are answered alike, and one of them is where the login lands by itself.
test.each([
  ['thrown away by the login', KEPT, '', '', 'broken'],
  ['thrown away with the session of a guest', KEPT, 'starts: at-first-visit,', '', 'broken'],
  ['thrown away with the token of a form', KEPT, '', 'csrf: { token: per-session }', 'broken'],
  ['thrown away with both', KEPT, 'starts: at-first-visit,', 'csrf: { token: per-session }', 'broken'],
  ['carried over', '{ kept: session }', 'starts: at-first-visit,', '', 'holds'],
  ['in the address', '{}', '', 'csrf: { token: per-session }', 'holds'],
  ['taken where it is listed alone', '{ accept: { listed: [/home] } }', '', '', 'broken'],
  ['taken where all are listed', '{ accept: { listed: [/home, /tickets] } }', '', '', 'holds'],
])('a page that was asked for, %s', async (_what, kept, session, more, verdict) => {
  const { stage, diagnostics } = project(
    policyText({
      pages: PAGES,
      login: `login: { page: /in, submit: POST /in, return: ${kept} }`,
      landing: 'landing: [{ otherwise: /home }]',
      session: `session: { ${session} idle: 30m, absolute: 8h }`,
      more,
    }),
  );
  expect(diagnostics).toEqual([]);
  const job = { cast: ALONE, most: 20_000, withExposures: false };
  const outcome = await settleScene(stage, job, () => false);
  const verdicts = verdictsOf(stage.app.policy, [ALONE], [outcome], 'it took too long');
  const { finding } = verdicts.find(({ goal }) => goal.id === 'return-kept') ?? {};
  expect(finding?.verdict).toBe(verdict);
});

import { policyText, project } from '../../support/policies';
import { playWalk } from '../../../src/core/walks/runner';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk], kind: api }, /own: { for: signed-in } }';
const TOKENS = 'tokens: { access: { life: 1h }, refresh: { life: 30m, longest: 8h }, roles: each-request }';
/** Somebody gets a token for a copy before something that is to end it. */
const WALK = (event: string) =>
  `walks: [{ name: A, steps: [{ login: ann }, { copy: { what: refresh, to: thief } }, { refresh: , in: thief }, ${event}, { wait: 1s }] }]`;

/** The hints of what a walk breaks, where a logout and a changed password end so much. */
function hints(ends: string, event: string): string[] {
  const policy = policyText({
    pages: PAGES,
    login: 'login: { page: /in, submit: POST /in, by: tokens }',
    landing: 'landing: [{ otherwise: / }]',
    logout: `logout: { submit: POST /out, ends: [${ends}] }`,
    more: `${TOKENS}\npassword: { change: { page: /own, submit: POST /own }, ends: [${ends}] }`,
  });
  const { stage, walks } = project(policy, [WALK(event)]);
  return walks.flatMap((walk) =>
    playWalk(stage, walk).steps.flatMap(({ broken }) => broken.map(({ mend }) => mend)),
  );
}

test.each([
  ['logout.ends', '{ logout: }'],
  ['password.ends', '{ set-password: { as: ann, password: a-9 } }'],
])('of a token that was got for a copy the hint is what ends the token: %s', (key, event) => {
  expect(new Set(hints('refresh', event))).toEqual(new Set([`write ${key}: [refresh, access]`]));
  expect(hints('refresh, access', event)).toEqual([]);
});

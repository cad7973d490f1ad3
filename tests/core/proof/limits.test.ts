import { ALONE } from '../../../src/core/proof/prove';
import type { Limits } from '../../../src/core/proof/time/limits';
import type { Cast } from '../../../src/core/proof/choices/cast';
import { Scene } from '../../../src/core/proof/search/scene';
import { Search } from '../../../src/core/proof/search/search';
import { UndeclaredAge } from '../../../src/core/proof/time/symbolic-clock';
import { policyText, project } from '../../support/policies';

/** Everything of which an app asks the age, two or three things at a time. */
const SESSIONS = policyText({
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /safe: { for: { any: [clerk], login-within: 3s } } }',
  logout: 'logout: { submit: POST /out, ends: [] }',
  session: 'session: { idle: 5s, absolute: 9s, renews: past-half }',
  more: 'promises: [{ after: logout, copied: session, works-at-most: 4s }, { after: role-removed, copied: session, works-at-most: 3s }]',
});
const CODES = policyText({
  accounts: 'accounts: { ann: { password: a-1, roles: [clerk], second-factor: true } }',
  pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /in/code: { for: guests } }',
  session: 'session: { idle: 5s, absolute: 9s }',
  more: 'second-factor: { page: /in/code, submit: POST /in/code, life: 4s }',
});
const ATTEMPTS = policyText({
  login: 'login: { page: /in, submit: POST /in, attempts: { most: 2, within: 4s, pause: 3s } }',
});
const TOKENS = policyText({
  pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /api/a: { for: clerk, kind: api } }',
  login: 'login: { page: /in, submit: POST /in, by: tokens }',
  more: 'tokens: { access: { life: 2s, leeway: 1s }, refresh: { life: 4s, rotates: true, longest: 9s, grace: 2s }, refresh-when: 1s }',
});
const REMEMBERED = policyText({ more: 'remember: { life: 6s }', session: 'session: { idle: 2s }' });
const SCRIPT = policyText({
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: { any: [clerk], login-within: 7s }, guard: browser } }',
  login: 'login: { page: /in, submit: POST /in, by: tokens }',
  more: 'tokens: { access: { life: 2s }, refresh-when: never }',
});
const JOINING = policyText({
  pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests } }',
  more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm }\nconfirm: { path: /confirm/:id, life: 5s }',
});

const RESETS = policyText({
  more: 'password: { reset: { page: /in, submit: POST /forgot, link: /reset/:id, life: 5s } }',
});
const BY_LINK = policyText({
  more: 'link-login: { page: /in, submit: POST /mail, link: /by/:id, life: 5s, same-browser: false }',
});

type Age = Exclude<keyof Limits, 'stage' | 'sinceEvent' | 'absolute' | 'idle' | 'loginWithin'>;

/** Looks at so many situations as they are, nothing taken apart, with other ages declared. */
function look(text: string, change: (limits: Limits) => Partial<Limits>, more: Partial<Cast>): void {
  const scene = new Scene(project(text).stage, { ...ALONE, ...more });
  const limits = { ...scene.limits, ...change(scene.limits) };
  const changed = Object.create(scene, { limits: { value: limits } }) as Scene;
  new Search(changed, 'logout-final where nobody is', () => 1).go(400);
}

test.each<[Age, string, Partial<Cast>?]>([
  ['sessionStarted', SESSIONS],
  ['sessionActive', SESSIONS],
  ['codeSent', CODES],
  ['familyStarted', TOKENS],
  ['accessIssued', TOKENS],
  ['refreshIssued', TOKENS],
  ['refreshReplaced', TOKENS, { thief: true }],
  ['failure', ATTEMPTS],
  ['paused', ATTEMPTS],
  ['confirmationSent', JOINING],
  ['resetSent', RESETS],
  ['signInSent', BY_LINK],
  ['remembered', REMEMBERED],
  ['tokensReceived', SCRIPT],
])(
  'nobody asks more of the age %s than is declared, and one second less would be told',
  (age, text, more = {}) => {
    expect(() => {
      look(text, () => ({}), more);
    }).not.toThrow();
    expect(() => {
      look(text, (limits) => ({ [age]: limits[age] - 1 }), more);
    }).toThrow(UndeclaredAge);
  },
);

test('an age of what is promised is declared as long as the promise', () => {
  expect(() => {
    look(SESSIONS, ({ sinceEvent }) => ({ sinceEvent: { ...sinceEvent, logout: sinceEvent.logout - 1 } }), {
      thief: true,
    });
  }).toThrow(UndeclaredAge);
});

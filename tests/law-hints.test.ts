import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from '../src/core/checks/run-checks';
import { sourceOf } from '../src/core/language/text/source';
import { stageOf } from '../src/core/play/stage';
import { loadProject } from '../src/core/walks/project';
import { playWalk } from '../src/core/walks/runner';
import { EXAMPLES } from './support/policies';

/** Of each flaw that a law names in a walk: what its hint says, and that written into the policy. */
const MENDS: Readonly<Record<string, readonly [hint: string, flawed: string, mended: string]>> = {
  '04': [
    'give the page one audience for both: for: guests',
    '{ read: guests, write: everyone }',
    '{ for: guests }',
  ],
  '07': ['set login.return.accept: same-origin', 'accept: leading-slash', 'accept: same-origin'],
  '08': ['set login.return.accept: same-origin', 'accept: anything', 'accept: same-origin'],
  '09': ['set login.return.only-if-allowed: true', 'only-if-allowed: false', 'only-if-allowed: true'],
  '10': ['write logout.ends: [session]', 'ends: []', 'ends: [session]'],
  '100': ['name /terms in lets of the barrier terms', 'lets: [/]', 'lets: [/, /terms]'],
  '103': ['set logins.desk.renew-session-id: true', 'renew-session-id: false', 'renew-session-id: true'],
  '106': ['write password.ends: [remember, session]', 'ends: [remember]', 'ends: [remember, session]'],
  '107': ['set password.own: renews', 'own: keeps', 'own: renews'],
  '109': ['set password.reset.code: asked', 'code: given', 'code: asked'],
  '11': ['write logout.ends: [session, refresh]', 'ends: [session]', 'ends: [session, refresh]'],
  '111': ['set link-login.same-browser: true', 'same-browser: false', 'same-browser: true'],
  '112': ['write password.ends: [session, links]', 'ends: [session]', 'ends: [session, links]'],
  '113': ['set state: checked', 'state: absent', 'state: checked'],
  '116': ['set identity-providers.parish-id.code: asked', 'code: given', 'code: asked'],
  '12': [
    'write logout.ends: [session, refresh, access]',
    'POST /sign-out',
    'POST /sign-out, ends: [session, refresh, access]',
  ],
  '122': ['write sets at the page', 'write: signed-in }', 'write: signed-in, sets: { terms: accepted } }'],
  '123': ['leave login out of also', ', also: [login]', ''],
  '124': ['set logout.of: login', 'of: shown', 'of: login'],
  '133': ['set tokens.shared-refresh: true', 'longest: 8h } }', 'longest: 8h }, shared-refresh: true }'],
  '13': ['set session.kept: store', 'kept: sealed', 'kept: store'],
  '16': ['set proxy.trusted: true', 'trusted: false', 'trusted: true'],
  '17': ['set proxy.trusted: true', 'trusted: false', 'trusted: true'],
  '18': ['serve it by https: write origin: https://', 'origin: http://', 'origin: https://'],
  '19': ['send people on to a page that admits them', 'role: /ledger', 'role: /berths'],
  '20': ['send people on to a page that admits them', '{ otherwise: /sign-in }', '{ otherwise: /berths }'],
  '21': [
    'add a landing entry for them with a page that is open to them',
    '{ otherwise: /ledger }',
    '{ role: bursar, to: /ledger }, { otherwise: /berths }',
  ],
  '23': ['send people to one that exists', 'lands: /goodbye', 'lands: /'],
  '24': ['set logout.submit: POST', 'GET /sign-out', 'POST /sign-out'],
  '25': [
    'let the form that people are sent to admit them',
    '/sign-in: { for: signed-in }',
    '/sign-in: { for: guests }',
  ],
  '27': ['set login.renew-session-id: true', 'renew-session-id: false', 'renew-session-id: true'],
  '28': ['set session.roles: each-request', 'roles: at-login', 'roles: each-request'],
  '29': ['set tokens.roles: each-request', 'life: 1h } }', 'life: 1h }, roles: each-request }'],
  '30': ['set back-button: no-store', 'back-button: cached', 'back-button: no-store'],
  '31': [
    'give the data the audience of the page',
    '/api/ledger: { for: signed-in',
    '/api/ledger: { for: [bursar]',
  ],
  '32': [
    'give the data second-factor: true',
    '/api/vault: { for: signed-in',
    '/api/vault: { for: { second-factor: true }',
  ],
  '35': ['set csrf: { token: per-session }', 'session: {', 'csrf: { token: per-session }\nsession: {'],
  '39': ['set tokens.shared-refresh: true', 'shared-refresh: in-tab', 'shared-refresh: true'],
  '53': ['narrow the audience of the page', '[bursar, dockmaster]', '[bursar]'],
  '55': ['let the form that people are sent to admit them', 'for: signed-in }]', 'for: everyone }]'],
  '56': [
    'let the form that people are sent to admit them',
    '/code:    { for: signed-in }',
    '/code:    { for: guests }',
  ],
  '57': ['set sign-up.lands to a page that is open to them', 'lands: /ledger', 'lands: /berths'],
  '59': ['send people to one that exists', 'to: /books', 'to: /ledger'],
  '61': ['set login.by: both', 'by: tokens', 'by: both'],
  '75': ['set session.at-once: latest-wins', 'first-wins', 'latest-wins'],
  '76': ['promise a longer time', 'access-lasts-at-most: 2h', 'access-lasts-at-most: 11h'],
  '77': ['set session.kept: store', 'kept: sealed', 'kept: store'],
  '78': ['set session.roles: each-request', 'roles: at-login', 'roles: each-request'],
  '79': ['leave login.as-role out', 'as-role: true, ', ''],
  '80': ['send people to one that exists', 'to: /books', 'to: /berths'],
  '81': ['set login.renew-session-id: true', 'renew-session-id: false', 'renew-session-id: true'],
  '82': ['or csrf: { origin: checked }', 'session: {', 'csrf: { origin: checked }\nsession: {'],
  '83': ['set session.starts: with-a-form', 'at-first-visit', 'with-a-form'],
  '84': ['or csrf: { origin: checked }', 'origin: ignored', 'origin: checked'],
  '85': ['narrow the audience of the page', '/ledger:  {}', '/ledger:  { for: [bursar] }'],
  '87': ['set login.return.carried-over: true', 'carried-over: false', 'carried-over: true'],
  '88': ['set login.return.accept: same-origin', 'accept: one-slash', 'accept: same-origin'],
  '89': ['name session in logout.clears', 'clears: []', 'clears: [session]'],
  '94': [
    'give the data the audience of the page',
    '/api/loans: { for: [gardener]',
    '/api/loans: { for: { any: gardener, flags: { stock-taking: off } }',
  ],
  '95': ['set sign-up.then: nothing', 'then: login', 'then: nothing, lands: /sign-in'],
  '98': [
    'give the data the audience of the page',
    '/api/tour: { for: signed-in',
    '/api/tour: { for: { joined-within: 14d }',
  ],
  '99': ['such as api: 403', 'lets: [/, /terms]', 'lets: [/, /terms], api: 403'],
};

const FOLDER = join(EXAMPLES, 'faults');
const files = readdirSync(FOLDER);
const textOf = (name: string) => readFileSync(join(FOLDER, name), 'utf8');

/** What the walks of a policy break, whatever they expect, and what check finds that is more than advice. */
async function foundIn(text: string) {
  const { policy, input, walks, diagnostics } = await loadProject(sourceOf('cavrin.yaml', text), []);
  expect(diagnostics.filter(({ severity }) => severity === 'error').map(({ message }) => message)).toEqual(
    [],
  );
  if (policy === null || input === null) throw new Error('no policy');
  const stage = stageOf(policy);
  const breaches = walks.flatMap((walk) => {
    const steps = walk.steps.map((step) => ({ ...step, expectBroken: [] }));
    return playWalk(stage, { ...walk, steps, expectBroken: [] }).steps.flatMap(({ broken }) => broken);
  });
  // What is accepted with a reason is so no more once it is mended.
  const found = runChecks(policy, input, walks).filter(
    ({ code, severity }) => severity !== 'advice' && code !== 'accepts-nothing',
  );
  return { breaches, codes: found.map(({ code }) => code) };
}

test.each(Object.entries(MENDS))('what the hint of the law says mends flaw %s', async (number, mend) => {
  const [hint, flawed, mended] = mend;
  const text = textOf(files.find((each) => each.startsWith(`${number}-`)) ?? '');
  const before = await foundIn(text);
  expect(before.breaches.map((each) => each.mend).join('\n')).toContain(hint);
  const law = before.breaches.find((each) => each.mend.includes(hint))?.law;
  expect(text).toContain(flawed);
  const after = await foundIn(text.replace(flawed, () => mended));
  expect(after.breaches.map((each) => each.law)).not.toContain(law);
  // Nothing else breaks by it, and check finds nothing new that is more than advice.
  const known = before.breaches.map((each) => each.law);
  expect(after.breaches.filter((each) => !known.includes(each.law))).toEqual([]);
  expect(after.codes.filter((code) => !before.codes.includes(code))).toEqual([]);
});

test('every flaw that a law names in a walk is mended so', () => {
  const broken = files.filter((name) => textOf(name).includes('expect-broken: '));
  expect(broken.map((name) => name.split('-', 1)[0]).sort()).toEqual(Object.keys(MENDS).sort());
});

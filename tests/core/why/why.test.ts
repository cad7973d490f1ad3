import { SOME_CLIENT } from '../../../src/core/http/client-address';
import { guestState, reach, type Condition } from '../../../src/core/grid/login-state';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { explainRequest, type Explained } from '../../../src/core/why/explain-request';
import { readRequestLine } from '../../../src/core/why/request-line';
import { changeWords } from '../../../src/render/why-text';
import { differences, playSteps, policyText, project } from '../../support/policies';

beforeAll(loadRegularLanguages);

const text = policyText({
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief], facts: { side: port }, second-factor: true }, otto: { password: o-1, state: suspended } }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /a: {}, /box/:who: { for: { account: who, facts: { side: port } } }, /vault: { for: { all: [chief, clerk], none: [temp], second-factor: true, login-within: 5m } } }',
  roles: 'roles: { clerk: [], chief: [clerk], temp: [] }',
  rules:
    "rules: [{ path: /b, for: clerk }, { matches: '^/a/', for: clerk }, { path: /a, methods: POST, for: clerk }, { path: /a, from: 10.0.0.0/8, for: everyone }, { path: /a, host: x.example, for: clerk }, { path: /a, for: chief }]",
  more: 'second-factor: { page: /code, submit: POST /code, life: 5m }',
});

function explain(
  request: string,
  account: string | null,
  condition: Condition = 'signed-in',
  client = SOME_CLIENT,
): Explained {
  const { stage, policy } = project(text);
  const line = readRequestLine(request);
  const known = account === null ? null : (policy?.accounts.get(account) ?? null);
  const who = known === null ? policy && guestState(policy) : reach(stage, known, condition);
  if (who === null || typeof line === 'string') throw new Error('not explained');
  return explainRequest(stage, who, line.method, line.address, client);
}

test.each(['/a<b', '/c"d', '/e>f', '/g`h', '/i{j}', '/k?l=<m>'])(
  '%s is asked for as a browser sends it, and found where the table shows it',
  (address) => {
    const [path = ''] = address.split('?');
    const written = policyText({
      pages: `pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: clerk }, ${JSON.stringify(path)}: { for: everyone } }`,
    });
    const { stage, policy } = project(written);
    const line = readRequestLine(`GET ${address}`);
    if (policy === null || typeof line === 'string') throw new Error('not explained');
    const { outcome, route } = explainRequest(
      stage,
      guestState(policy),
      line.method,
      line.address,
      SOME_CLIENT,
    );
    expect([outcome.status, route?.page?.pattern.text]).toEqual([200, path]);
    const walk = playSteps(written, [
      `{ visit: ${JSON.stringify(address)}, lands: ${JSON.stringify(address)} }`,
    ]);
    expect(differences(walk)).toEqual([]);
    expect(walk.steps[0]?.outcome.why).toBe('served');
  },
);

test('of a page that script guards the visitor is whom script knows by the tokens', () => {
  const { stage, policy } = project(
    policyText({
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk], guard: browser, methods: [GET] }, /safe: { for: [chief], guard: browser } }',
      login:
        'login: { page: /in, submit: POST /in, by: tokens, return: {}, attempts: { most: 5, within: 5m, pause: 5m } }',
      more: 'tokens: { access: { life: 5m, kept: tab }, refresh: { life: 1h, kept: tab } }',
    }),
  );
  const ann = policy?.accounts.get('ann');
  const who = ann === undefined ? null : reach(stage, ann, 'signed-in');
  if (who === null) throw new Error('nobody is signed in');
  const seen = (method: 'GET' | 'DELETE', address: string) => {
    const { visitor, outcome, changes } = explainRequest(stage, who, method, address, SOME_CLIENT);
    return [visitor.account, outcome.why ?? 'served', changes.length];
  };
  expect(seen('GET', '/desk')).toEqual(['ann', 'served', 0]);
  expect(seen('GET', '/safe')).toEqual(['ann', 'role', 1]);
  expect(seen('DELETE', '/desk')).toEqual([null, 'method-not-allowed', 0]);
});

test('every rule that was looked at says why it does not match', () => {
  expect(explain('/a', 'ann').rules.map(({ because }) => because)).toEqual([
    '/b does not cover /a',
    '^/a/ finds nothing in /a',
    'it is for POST only',
    'it is for requests from 10.0.0.0/8 only',
    'it is for the host x.example only',
    null,
  ]);
  expect(explain('/a', null, 'signed-in', '10.1.1.1').admitted).toBe('served');
});

test.each<[string, string | null, Condition, string[]]>([
  ['/desk', 'ann', 'signed-in', []],
  ['/safe', 'ann', 'signed-in', ['hold chief']],
  ['/safe', null, 'signed-in', ['log in, and hold chief']],
  ['/safe', 'bo', 'idle-expired', ['log in']],
  ['/in', 'ann', 'signed-in', ['log out']],
  ['/box/bo', 'ann', 'signed-in', ['have side port, and be the account bo']],
  ['/vault', 'ann', 'signed-in', ['hold chief, and give a one-time code']],
  ['/vault', 'bo', 'code-owed', ['give a one-time code']],
  ['/vault', 'bo', 'absolute-expired', ['log in, and give a one-time code']],
])('%s as %s, %s: %j would do', (request, account, condition, expected) => {
  expect(explain(request, account, condition).changes.map(changeWords)).toEqual(expected);
});

test('the visitor is told with the roles that others bring, and an unsafe path asks nothing of the policy', () => {
  const { given, visitor } = explain('/safe', 'bo');
  expect([given, visitor.secondFactor]).toEqual([[{ role: 'chief', brings: ['clerk'] }], true]);
  expect(explain('/%2f', 'ann')).toMatchObject({
    route: null,
    admitted: 'unsafe-path',
    rules: [],
    changes: [],
  });
});

test.each([
  ['GET /x', { method: 'GET', address: '/x' }],
  ['post /x?y=1', { method: 'POST', address: '/x?y=1' }],
  ['/x', { method: 'GET', address: '/x' }],
  ['x', 'x is no request'],
  ['GET /x#y', 'GET /x#y has a fragment, which is never sent'],
  ['GTE /x', 'GTE is no request method'],
])('the request %s', (line, expected) => {
  expect(readRequestLine(line)).toEqual(expected);
});

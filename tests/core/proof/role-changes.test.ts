import fc from 'fast-check';
import { roleChanges } from '../../../src/core/proof/choices/role-changes';
import { ALONE } from '../../../src/core/proof/prove';
import { Cover } from '../../../src/core/proof/search/cover';
import { goalMissed } from '../../../src/core/proof/search/goals';
import { Scene } from '../../../src/core/proof/search/scene';
import type { Action } from '../../../src/core/steps/all-steps';
import { plainStep } from '../../../src/core/steps/walk';
import { playSteps } from '../../../src/core/walks/runner';
import { policyText, project } from '../../support/policies';

const ROLES = ['cook', 'guide', 'pilot', 'warden'];
const role = fc.constantFrom(...ROLES);
const few = fc.uniqueArray(role, { minLength: 1, maxLength: 3 }).map((roles) => `[${roles.join(', ')}]`);
const audience = fc.oneof(
  few,
  few.map((roles) => `{ all: ${roles} }`),
  few.map((roles) => `{ none: ${roles} }`),
  fc.tuple(few, few).map(([any, none]) => `{ any: ${any}, none: ${none} }`),
);
const entry = fc
  .tuple(few, fc.constantFrom('/', '/a', '/b', '/c'))
  .map(([roles, to]) => `{ role: ${roles}, to: ${to} }`);

const policies = fc
  .record({
    includes: fc.subarray(['guide: [cook]', 'pilot: [guide]', 'warden: [cook]']),
    pages: fc.tuple(audience, audience, audience),
    landing: fc.array(entry, { maxLength: 3 }),
    otherwise: fc.constantFrom('/', '/a'),
    refusal: fc.constantFrom('403', 'landing', '/b'),
    atLogin: fc.boolean(),
    tokens: fc.constantFrom(null, 'in-token', 'each-request'),
    loads: fc.boolean(),
    calls: fc.tuple(fc.oneof(audience, fc.constant('everyone')), audience),
  })
  .map(
    ({ includes, pages: [a, b, c], landing, otherwise, refusal, atLogin, tokens, loads, calls: [x, y] }) => {
      const own = ROLES.map((name) => includes.find((each) => each.startsWith(name)) ?? `${name}: []`);
      return policyText({
        roles: `roles: { ${own.join(', ')} }`,
        accounts: 'accounts: { ann: { password: a-1, roles: [cook] } }',
        pages: `pages: { /: { for: everyone }, /in: { for: guests }, /a: { for: ${a}${loads ? ", loads: ['GET /api/x']" : ''} }, /b: { for: ${b} }, /c: { for: ${c} }, /api/x: { kind: api, for: ${x} }, /api/y: { kind: api, for: ${y} } }`,
        rules: `refusals: { role: ${refusal} }`,
        landing: `landing: [${[...landing, `{ otherwise: ${otherwise} }`].join(', ')}]`,
        login: `login: { page: /in, submit: POST /in${tokens === null ? '' : ', by: both'} }`,
        more: tokens === null ? '' : `tokens: { access: { life: 5m }, roles: ${tokens} }`,
        session: `session: { idle: 1h, absolute: 8h, roles: ${atLogin ? 'at-login' : 'each-request'} }`,
      });
    },
  );

const SETS = ROLES.reduce<string[][]>((all, name) => [...all, ...all.map((set) => [...set, name])], [[]]);
const login: Action = {
  verb: 'login',
  account: 'ann',
  password: 'a-1',
  passwordGiven: false,
  at: null,
  with: null,
  isWrong: false,
  role: null,
  remember: false,
  from: null,
};
const CALLS = ['/api/x', '/api/y'].map((address): Action => ({
  verb: 'send',
  method: 'GET',
  address,
  from: null,
}));

test('whatever a set of roles breaks is broken by one of those that are tried', () => {
  let broken = 0;
  let fewer = 0;
  fc.assert(
    fc.property(policies, (text) => {
      const { stage } = project(text);
      const cover = new Cover(new Scene(stage, { ...ALONE, account: 'ann', administrator: true }));
      expect(cover.go(5_000)).toBe(true);
      const missed = new Set([...cover.all()].flatMap(({ misses }) => [...misses].map(goalMissed)));
      const found = new Set<string>();
      const play = (actions: readonly Action[]) => {
        const steps = actions.map((action) => plainStep('browser', action));
        for (const step of playSteps(stage, steps).steps) for (const { law } of step.broken) found.add(law);
      };
      for (const roles of SETS) {
        const change: Action = { verb: 'set-roles', account: 'ann', roles };
        for (const address of ['/a', '/b', '/c', '/in']) {
          const visit: Action = { verb: 'visit', address, from: null };
          play([change, login, visit]);
          play([login, change, visit]);
        }
        // Data may be open to whom the page that shows it is not for.
        play([change, login, ...CALLS]);
        // What a token carries may be from before.
        for (const again of stage.app.policy.tokens === null ? [] : SETS) {
          const since: Action = { verb: 'set-roles', account: 'ann', roles: again };
          play([change, login, since, ...CALLS]);
        }
      }
      broken += found.size;
      fewer += SETS.length - roleChanges(stage, { name: 'ann', facts: new Map() }).length;
      // What a form passes on is seen where people log in to every account.
      found.delete('return-kept');
      expect([...found].filter((law) => !missed.has(law))).toEqual([]);
    }),
    { numRuns: Number(process.env['ROLE_RUNS'] ?? 40) },
  );
  expect(broken).toBeGreaterThan(20);
  expect(fewer).toBeGreaterThan(100);
}, 600_000);

test('data is tried with the roles that shut out of its page alone', () => {
  const { stage } = project(
    policyText({
      roles: 'roles: { pilot: [], guide: [] }',
      accounts: 'accounts: { ann: { password: a-1, roles: [pilot] } }',
      pages:
        "pages: { /: { for: everyone }, /in: { for: guests }, /a: { for: { any: [pilot], none: [guide] }, loads: ['GET /api/x'] }, /api/x: { kind: api, for: [pilot] } }",
      landing: 'landing: [{ otherwise: / }]',
    }),
  );
  const cover = new Cover(new Scene(stage, { ...ALONE, account: 'ann', administrator: true }));
  expect(cover.go(5_000)).toBe(true);
  const missed = new Set([...cover.all()].flatMap(({ misses }) => [...misses].map(goalMissed)));
  expect(missed).toContain('right-audience');
});

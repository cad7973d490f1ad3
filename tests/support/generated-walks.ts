import fc from 'fast-check';
import { factsAsked } from '../../src/core/language/stated';
import type { Policy } from '../../src/core/language/policy';
import { sampleAddress } from '../../src/core/paths/coverage';
import { playWalk } from '../../src/core/walks/runner';
import { stageOf } from '../../src/core/play/stage';
import { plainStep, type Step, type Walk } from '../../src/core/steps/walk';
import type { Action } from '../../src/core/steps/all-steps';
import { project } from './policies';
import { policyText } from './policies';

/** Addresses that no policy has, or that are written in a way that needs care. */
const ODD = ['/nowhere', '/%2e%2e/a', '/a%2fb', '/a/../in', '/in?back=//evil.example', '/%zz'];
const OTHER_SITE = 'https://mail.example';

/** Steps of every kind that a policy has room for, in two browsers, with waits at and around its limits. */
export function walksOf(policy: Policy, most: number): fc.Arbitrary<Walk> {
  const tenants = [...factsAsked(policy)].flatMap(([name, { isTenant }]) =>
    isTenant ? [...policy.accounts.values()].flatMap(({ facts: own }) => own.get(name) ?? []) : [],
  );
  const named = ['x', ...new Set(tenants)];
  const sampled = policy.pages.flatMap(({ pattern }) =>
    named.map((value) => sampleAddress(pattern, () => value)),
  );
  const addresses = [...new Set(sampled), ...ODD];
  const names = [...policy.accounts.keys()];
  const people = names.filter((name) => policy.accounts.get(name)?.key !== true);
  const roles = [...policy.roles.keys()];
  const address = fc.constantFrom(...addresses);
  const account = fc.constantFrom(...names);
  const from = fc.constantFrom(null, null, OTHER_SITE);
  const door = fc.constantFrom(null, ...policy.logins.map((each) => each.name));
  const login = fc
    .tuple(
      fc.constantFrom(...people),
      fc.constantFrom('right', 'right', 'right', 'wrong'),
      fc.boolean(),
      door,
    )
    .map(([name, given, remember, at]): Action => {
      const password = given === 'right' ? (policy.accounts.get(name)?.password ?? '') : 'wrong';
      return {
        verb: 'login',
        account: name,
        password,
        passwordGiven: given === 'wrong',
        at,
        with: null,
        isWrong: given === 'wrong',
        role: null,
        remember: remember && policy.remember !== null,
        from: null,
      };
    });
  const wait = fc
    .tuple(fc.constantFrom(...limitsOf(policy)), fc.constantFrom(-1, 0, 1))
    .map(([limit, near]): Action => ({
      verb: 'wait',
      until: { kind: 'duration', seconds: Math.max(0, limit + near) },
    }));
  const plain = fc.constantFrom(
    'reload',
    'new-tab',
    'duplicate-tab',
    'restore-browser',
    'close-tab',
    'close-browser',
    'open-browser',
    'restart-app',
    'logout',
  );
  const calls = policy.pages
    .filter(({ kind }) => kind === 'api')
    .map(({ pattern }) => sampleAddress(pattern, () => 'x'));
  const actions: fc.WeightedArbitrary<Action>[] = [
    {
      weight: 8,
      arbitrary: fc
        .tuple(address, from)
        .map(([to, site]): Action => ({ verb: 'visit', address: to, from: site })),
    },
    {
      weight: 4,
      arbitrary: fc
        .tuple(fc.constantFrom('GET', 'POST', 'PUT', 'DELETE', 'HEAD', 'OPTIONS'), address, from)
        .map(([method, to, site]): Action => ({ verb: 'send', method, address: to, from: site })),
    },
    { weight: 8, arbitrary: login },
    { weight: 5, arbitrary: wait },
    { weight: 6, arbitrary: plain.map((verb): Action => ({ verb })) },
    { weight: 1, arbitrary: fc.constantFrom(1, 1, 2).map((pages): Action => ({ verb: 'back', pages })) },
    {
      weight: 1,
      arbitrary: fc
        .constantFrom(null, policy.session.cookie.name)
        .map((name): Action => ({ verb: 'clear-cookies', name })),
    },
    {
      weight: 2,
      arbitrary: fc
        .tuple(
          fc.constantFrom('session', 'access', 'refresh', 'remember'),
          fc.constantFrom('copy', 'copy', 'plant'),
        )
        .map(([what, verb]): Action => ({ verb, what, to: 'other' })),
    },
    { weight: 1, arbitrary: account.map((name): Action => ({ verb: 'suspend', account: name })) },
    { weight: 1, arbitrary: account.map((name): Action => ({ verb: 'delete-account', account: name })) },
    {
      weight: 1,
      arbitrary: fc
        .constantFrom(...people)
        .map((name): Action => ({ verb: 'set-password', account: name, password: 'new' })),
    },
    {
      weight: 1,
      arbitrary: fc
        .tuple(account, fc.subarray(roles))
        .map(([name, given]): Action => ({ verb: 'set-roles', account: name, roles: given })),
    },
  ];
  const facts = [...factsAsked(policy)].flatMap(([name, { values, isTenant }]) =>
    [[], ...[...values, ...(isTenant ? [...tenants, 'elsewhere'] : [])].map((value) => [value])].map(
      (given) => new Map([[name, given]]),
    ),
  );
  if (facts.length > 0) {
    actions.push({
      weight: 2,
      arbitrary: fc
        .tuple(account, fc.constantFrom(...facts))
        .map(([name, given]): Action => ({ verb: 'set-facts', account: name, facts: given })),
    });
  }
  const flags = [...policy.flags.keys()];
  if (flags.length > 0) {
    actions.push({
      weight: 2,
      arbitrary: fc
        .tuple(fc.constantFrom(...flags), fc.boolean())
        .map(([flag, isOn]): Action => ({ verb: 'set-flag', flags: new Map([[flag, isOn]]) })),
    });
  }
  for (const { name: provider, knows } of policy.providers) {
    const known = fc.constantFrom(...knows.keys());
    const by = {
      ...({ verb: 'login', password: '', passwordGiven: false, isWrong: false, role: null } as const),
      ...{ remember: false, at: null, with: provider, from: null },
    };
    actions.push(
      { weight: 4, arbitrary: known.map((each): Action => ({ ...by, account: each })) },
      {
        weight: 1,
        arbitrary: known.map((each): Action => ({ verb: 'plant-answer', account: each, provider })),
      },
      { weight: 1, arbitrary: fc.constant<Action>({ verb: 'logout-provider', provider }) },
    );
  }
  const machines = names.filter((name) => policy.accounts.get(name)?.key === true);
  if (machines.length > 0) {
    const machine = fc.constantFrom(...machines);
    const shown = fc.tuple(machine, fc.boolean(), fc.constantFrom('GET', 'POST', 'HEAD'), address);
    actions.push(
      {
        weight: 6,
        arbitrary: shown.map(([bot, isOld, method, to]): Action => ({
          ...({ verb: 'send', method, address: to, from: null } as const),
          key: { account: bot, isOld },
        })),
      },
      { weight: 2, arbitrary: machine.map((each): Action => ({ verb: 'rotate-key', account: each })) },
      { weight: 1, arbitrary: machine.map((each): Action => ({ verb: 'revoke-key', account: each })) },
    );
  }
  const { impersonation } = policy;
  if (impersonation !== null) {
    const { start, stop } = impersonation;
    const starts = [...names, 'nobody'].map((name) => start.path.replace(/:[^/]+/, name));
    actions.push({
      weight: 8,
      arbitrary: fc
        .constantFrom(...starts, ...starts, stop.path)
        .map((to): Action => ({ verb: 'send', method: 'POST', address: to, from: null })),
    });
  }
  if (policy.secondFactor !== null) {
    const code = fc
      .constantFrom('right', 'right', 'wrong', 'late')
      .map((given): Action => ({ verb: 'code', given }));
    actions.push({ weight: 5, arbitrary: code });
  }
  if (policy.signUp !== null) {
    actions.push({
      weight: 2,
      arbitrary: fc.constant<Action>({ verb: 'sign-up', account: 'new', password: 'n' }),
    });
    actions.push({ weight: 2, arbitrary: fc.constant<Action>({ verb: 'confirm', account: 'new' }) });
  }
  if (policy.tokens !== null && calls.length > 0) {
    const call = fc
      .constantFrom(...calls)
      .map((to) => ({ method: 'GET', address: to, tab: 'front' }) as const);
    actions.push({
      weight: 2,
      arbitrary: fc.tuple(call, call).map((both): Action => ({ verb: 'together', calls: both })),
    });
  }
  const browser = fc.constantFrom('browser', 'browser', 'browser', 'other');
  const steps = fc.array(fc.tuple(fc.oneof(...actions), browser), { minLength: 2, maxLength: most });
  return steps.map((drawn) =>
    possible(
      policy,
      drawn.map(([action, name]) => plainStep(name, action)),
    ),
  );
}

/** A walk without the steps that cannot be played where they stand. */
function possible(policy: Policy, steps: readonly Step[]): Walk {
  const stage = stageOf(policy);
  let walk: Walk = { name: 'generated', input: SOME_INPUT, at: [], steps, expectBroken: [] };
  for (;;) {
    const played = playWalk(stage, walk).steps;
    const at = played.findIndex(({ impossible }) => impossible !== null);
    if (at < 0) return { ...walk, [fc.toStringMethod]: () => told(walk) } as Walk;
    walk = { ...walk, steps: walk.steps.toSpliced(at, 1) };
  }
}

/** The steps of a walk for whoever reads a failure. */
function told({ steps: taken }: Walk): string {
  return taken.map(({ action, browser }) => `${browser}: ${JSON.stringify(action)}`).join('\n');
}

/** Every length of time that a policy compares anything with. */
function limitsOf(policy: Policy): number[] {
  const { session, tokens, remember, secondFactor, login, confirm, apiKeys, impersonation } = policy;
  const limits = [
    60,
    session.idle,
    session.absolute,
    session.cookie.life,
    tokens?.access.life,
    tokens && tokens.access.life + tokens.access.leeway,
    tokens?.refresh?.life,
    tokens?.refresh?.longest,
    tokens?.refresh?.grace,
    remember?.life,
    secondFactor?.life,
    login?.attempts?.pause,
    confirm?.life,
    apiKeys?.life,
    apiKeys?.overlap,
    impersonation?.life,
  ];
  return limits.filter((limit) => typeof limit === 'number');
}

const { input } = project(policyText());
if (input === null) throw new Error('no text');
const SOME_INPUT: Walk['input'] = input;

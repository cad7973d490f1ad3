import fc from 'fast-check';
import { ALONE, settleScene } from '../../../src/core/proof/prove';
import type { Finding } from '../../../src/core/proof/search/scene-proof';
import { Scene } from '../../../src/core/proof/search/scene';
import { BruteForce, FOR_EVER } from '../../support/brute-force';
import { policyText, project } from '../../support/policies';

const seconds = (...of: number[]) => fc.constantFrom(...of).map((each) => `${each}s`);

/** What is left out where something else is tried. */
const LEAN = { csrf: '', starts: 'at-login', kind: 'session', absolute: null } as const;

const BARRIER =
  'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /more, lets: [/more], api: 403 }]';

/** What an account and the pages have besides, by what is tried. */
const OF_MORE = {
  flag: ['', ', /more: { for: { flags: { sale: on } } }'],
  joined: [', joined: 1s', ', /more: { for: { joined-within: 3s } }'],
  sets: [
    ', facts: { terms: open }',
    ', /more: { read: { facts: { terms: open } }, write: clerk, sets: { terms: done } }',
  ],
  barrier: [', facts: { terms: open }', ', /more: { for: clerk, sets: { terms: done } }'],
  door: ['', ', /staff: { for: guests }'],
  change: ['', ', /more: { for: clerk }'],
  links: ['', ', /more: { for: guests }'],
  provider: ['', ''],
  key: ['', ', /more: { for: [clerk, gauge] }'],
  acting: ['', ', /more: { for: clerk }, /top: { for: boss }'],
  tenant: [
    ', facts: { club: [oak] }',
    ", /more: { for: { facts: { club: [elm, oak] } } }, /of/:club: { for: { facts: { club: ':club' } } }",
  ],
} as const;

/** Who takes part where it is not one person: ann, and a machine or somebody for whom she acts, who does not log in. */
const ACCOUNTS: Readonly<Record<string, string>> = {
  key: 'ann: { password: a-1, roles: [clerk] }, bot: { key: true, roles: [gauge] }',
  acting: 'ann: { password: a-1, roles: [boss] }, dee: { password: d-4, roles: [clerk] }',
};

/** Links for a new password, or to log in by, that live for two ticks. */
function linksOf({ own, asksOld, ends }: { own: string; asksOld: boolean; ends: readonly string[] }): string {
  const link = 'page: /more, submit: POST /more, link: /l/:id, life: 2s';
  return own === 'keeps'
    ? `link-login: { ${link}, same-browser: ${asksOld} }`
    : `password: { reset: { ${link}, then: ${own === 'ends' ? 'signed-in' : 'login'} }, ends: [${[...ends, ...(asksOld ? ['links'] : [])].join(', ')}] }`;
}

/** A provider that knows a browser for two ticks or for good, and an app that checks its answers or does not. */
function providerOf({
  own,
  asksOld,
  renewsId,
}: {
  own: string;
  asksOld: boolean;
  renewsId: boolean;
}): string {
  return `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example }, state: ${asksOld ? 'checked' : 'ignored'}, pkce: ${renewsId}, nonce: absent, ${own === 'renews' ? '' : 'session: 2s, '}logout: ${own === 'keeps' ? 'provider-too' : 'app-only'}, asks-again: ${own === 'ends' && asksOld} } }`;
}

/** A machine whose key lives for two ticks or for good, and is changed with or without an overlap. */
function keysOf({ own, asksOld }: { own: string; asksOld: boolean }): string {
  return `api-keys: { ${own === 'renews' ? '' : 'life: 2s, '}overlap: ${asksOld ? '1s' : '0s'} }\npromises: [{ only: clerk, reach: /more }]`;
}

/** Somebody who acts for another for two ticks or for good, noted in the session or with the account. */
function actingOf({ own, asksOld, renewsId }: { own: string; asksOld: boolean; renewsId: boolean }): string {
  return `impersonation: { start: POST /as/:who, stop: POST /back, by: boss, of: clerk${own === 'renews' ? '' : ', life: 2s'}${asksOld ? ', not: /desk' : ''}, kept: ${renewsId ? 'session' : 'account'} }\npromises: [{ only: boss, reach: /top }]`;
}

/** Small policies whose lives are a few ticks, some careful and some not. */
const policies = fc
  .record({
    idle: fc.option(seconds(2, 3)),
    absolute: fc.option(seconds(3, 4)),
    renews: fc.constantFrom('each-request', 'never', 'past-half'),
    roles: fc.constantFrom('each-request', 'at-login'),
    kind: fc.constantFrom('session', 'session', 'tokens', 'both', 'remember'),
    access: seconds(1, 2),
    refresh: fc.option(
      fc.record({
        life: seconds(2, 3),
        rotates: fc.boolean(),
        reuse: fc.constantFrom('end-family', 'refuse', 'accept'),
      }),
    ),
    inToken: fc.boolean(),
    ends: fc.subarray(['session', 'access', 'refresh', 'remember']),
    remember: fc.option(seconds(2, 3)),
    renewsId: fc.boolean(),
    promise: fc.option(
      fc.record({
        after: fc.constantFrom('logout', 'role-removed', 'suspended', 'password-changed'),
        copied: fc.constantFrom('session', 'access', null),
        most: fc.integer({ min: 0, max: 3 }),
      }),
    ),
    landing: fc.constantFrom('/', '/desk', '/more'),
    more: fc.constantFrom(
      null,
      null,
      null,
      null,
      'flag',
      'joined',
      'sets',
      'tenant',
      'barrier',
      'door',
      'change',
      'links',
      'provider',
      'key',
      'acting',
    ),
    own: fc.constantFrom('renews', 'keeps', 'ends'),
    asksOld: fc.boolean(),
    starts: fc.constantFrom('at-login', 'at-login', 'with-a-form', 'at-first-visit'),
    sameSite: fc.constantFrom('lax', 'lax', 'none'),
    csrf: fc.constantFrom(
      '',
      '',
      'token: per-session',
      'token: per-request, after: guard',
      'origin: checked',
      'origin: ignored',
    ),
  })
  .map((all) => {
    const each = {
      ...all,
      ...(all.more === null ? {} : LEAN),
      landing: all.more === null ? all.landing.replace('/more', '/') : all.landing,
    };
    // A few features at a time: all of them together would be too much to try tick by tick.
    const { refresh, csrf } = each;
    // Guests' sessions and tokens of forms are enough for one policy.
    const isPlain = csrf === '' && each.starts === 'at-login';
    const kind = isPlain ? each.kind : 'session';
    const promise = isPlain ? each.promise : null;
    const absolute = isPlain ? each.absolute : null;
    const hasTokens = kind === 'tokens' || kind === 'both';
    const by = hasTokens ? kind : 'session';
    const rotation =
      refresh === null
        ? ''
        : `, refresh: { life: ${refresh.life}, rotates: ${refresh.rotates}, reuse: ${refresh.reuse} }`;
    const counted =
      (promise?.copied ?? null) === null
        ? `access-lasts-at-most: ${promise?.most ?? 0}s`
        : `copied: ${promise?.copied ?? ''}, works-at-most: ${promise?.most ?? 0}s`;
    const limits = [
      each.idle === null ? '' : `idle: ${each.idle}, `,
      absolute === null ? '' : `absolute: ${absolute}, `,
    ].join('');
    return policyText({
      roles: 'roles: { clerk: [], boss: [], gauge: [] }'.replace(
        each.more === 'acting' || each.more === 'key' ? '' : ', boss: [], gauge: []',
        '',
      ),
      accounts: `accounts: { ${ACCOUNTS[each.more ?? ''] ?? `ann: { password: a-1, roles: [clerk]${each.more === null ? '' : OF_MORE[each.more][0]} }`} }`,
      pages: `pages: { /: { for: everyone }, /in: { for: everyone, write: guests }, /desk: { for: clerk }${hasTokens ? ', /api/a: { for: clerk, kind: api }' : ''}${each.more === null ? '' : OF_MORE[each.more][1]} }`,
      login:
        each.more === 'door'
          ? `logins: { front: { page: /in, submit: POST /in }, staff: { page: /staff, submit: POST /staff, takes: clerk, landing: [{ otherwise: /desk }], renew-session-id: ${each.renewsId} } }`
          : `login: { page: /in, submit: POST /in, by: ${by}, renew-session-id: ${each.renewsId}${each.more === 'acting' ? ', takes: boss' : ''} }`,
      landing: `landing: [{ otherwise: ${each.landing} }]`,
      logout: `logout: { submit: POST /out, ends: [${each.ends.join(', ')}] }`,
      session: `session: { ${each.starts === 'at-login' ? '' : `starts: ${each.starts}, `}${limits}cookie: { same-site: ${each.sameSite} }, renews: ${each.renews}, roles: ${each.roles} }`,
      more: [
        hasTokens
          ? `tokens: { access: { life: ${each.access} }${rotation}, roles: ${each.inToken ? 'in-token' : 'each-request'} }`
          : '',
        each.remember === null || kind !== 'remember' ? '' : `remember: { life: ${each.remember} }`,
        csrf === '' ? '' : `csrf: { ${csrf} }`,
        each.more === 'flag' ? 'flags: { sale: on }' : '',
        each.more === 'barrier' ? BARRIER : '',
        each.more === 'change'
          ? `password: { change: { page: /more, submit: POST /more, asks-old: ${each.asksOld} }, own: ${each.own}, ends: [${each.ends.join(', ')}] }`
          : '',
        each.more === 'links' ? linksOf(each) : '',
        each.more === 'provider' ? providerOf(each) : '',
        each.more === 'key' ? keysOf(each) : '',
        each.more === 'acting' ? actingOf(each) : '',
        promise === null || each.more === 'key' || each.more === 'acting'
          ? ''
          : `promises: [{ after: ${promise.after}, ${counted} }]`,
      ].join('\n'),
    });
  });

const casts = fc
  .constantFrom({}, {}, { thief: true }, { administrator: true }, { tabs: 2 })
  .map((each) => ({ ...ALONE, ...each }));

const MOST = Number(process.env['BRUTE_STATES'] ?? 300);
const RUNS = Number(process.env['BRUTE_RUNS'] ?? 12);

/** What several scenes say of a goal: the fewest moves and, with those, the fewest ticks in which any breaks it. */
function together(findings: readonly (Finding | undefined)[]): unknown {
  const broken = findings.flatMap((finding) => {
    if (finding?.verdict !== 'broken') return [];
    const { moves, seconds: ticks, steps } = finding.by;
    // What time alone brings is seen by the next move.
    const more = steps.at(-1)?.action.verb === 'wait' ? 1 : 0;
    return [{ moves: moves + more, ticks }];
  });
  const [fewest] = broken.sort((one, other) => one.moves - other.moves || one.ticks - other.ticks);
  return fewest ?? findings.find((finding) => finding?.verdict !== 'holds')?.verdict ?? 'holds';
}

test('verdicts and exposure bounds are those of trying every sequence tick by tick', async () => {
  let compared = 0;
  let missed = 0;
  await fc.assert(
    fc.asyncProperty(policies, casts, async (text, cast) => {
      const { stage } = project(text);
      const scene = new Scene(stage, cast);
      const all = new BruteForce(scene, true).run(MOST);
      if (all === null) return;
      compared += 1;
      missed += all.missed.size;
      const isAlone = !cast.thief && !cast.administrator && cast.tabs === 1;
      // With one account fewer requests are told apart: the verdicts must be those of all of them.
      const accounts = isAlone ? [null] : ['ann', ...(stage.app.policy.accounts.has('bot') ? ['bot'] : [])];
      const outcomes = await Promise.all(
        accounts.map((account) => {
          const own = { ...cast, account, machine: account === 'bot' };
          return settleScene(stage, { cast: own, most: 10_000, withExposures: isAlone }, () => false);
        }),
      );
      const exposures = outcomes[0]?.exposures;
      const found = scene.goals.map(({ id }) => [
        id,
        together(outcomes.map(({ findings }) => findings.get(id))),
      ]);
      const wanted = scene.goals.map(({ id }) => [id, all.missed.get(id) ?? 'holds']);
      expect(new Map(found as never)).toEqual(new Map(wanted as never));
      for (const { credential, event, ends, walk, isAttained } of exposures ?? []) {
        const last = all.opened.get(`${credential} ${event}`);
        const bound = last === undefined ? 0 : last >= FOR_EVER ? null : last + 1;
        expect([credential, event, ends, isAttained]).toEqual([credential, event, bound, true]);
        expect(walk === null).toBe(ends === 0);
      }
    }),
    { numRuns: RUNS },
  );
  expect(compared).toBeGreaterThan(RUNS / 8);
  expect(missed).toBeGreaterThan(0);
}, 3_000_000);

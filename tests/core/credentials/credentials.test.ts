import { handle } from '../../../src/core/app/app';
import { respondTo } from '../../../src/core/app/respond-to';
import { NEW_BROWSER, type BrowserState } from '../../../src/core/browser/state';
import { CREDENTIAL_KINDS } from '../../../src/core/credentials/all-credentials';
import { handedOut, loginOf } from '../../../src/core/credentials/handed-out';
import { counts } from '../../../src/core/credentials/counts';
import { deadlineOf, hasDeadline } from '../../../src/core/credentials/deadlines';
import { given, handleOf, heldBy } from '../../../src/core/credentials/holdings';
import { holdingsOf, recordsOf } from '../../../src/core/credentials/panel';
import { play, requestDeed } from '../../../src/core/play/stage';
import { FixedClock } from '../../../src/core/time/clock';
import { CREDENTIALS, type Credential } from '../../../src/core/vocabulary/credentials';
import { DEADLINES } from '../../../src/core/vocabulary/deadlines';
import { policyText, project } from '../../support/policies';
import { after, LOGIN, MORE, ROTATING, usual, type Played } from './setting';

/** What the app makes of a credential that somebody shows: whether it knows them by it. */
function isTaken({ stage, state }: Played, what: Credential, handed: string, time: number): boolean {
  const clock = new FixedClock(time);
  const origin = 'https://app.example';
  const cookie = (name: string) =>
    ({
      ...NEW_BROWSER,
      cookies: [
        {
          name,
          value: handed,
          host: 'app.example',
          hostOnly: true,
          path: '/',
          secure: true,
          httpOnly: true,
          sameSite: 'lax',
          storedAt: clock.now,
          createdAt: clock.now,
          life: null,
        },
      ],
    }) as unknown as BrowserState;
  if (what === 'session' || what === 'remember') {
    const { exchanges } = play(stage, state, cookie(what), requestDeed(stage, 'GET', '/'), clock);
    return exchanges[0]?.visitor.account === 'ann';
  }
  const request = {
    ...{ origin, query: '', cookie: '', apiKey: '', referer: '', client: '203.0.113.7', crossOrigin: false },
    accept: 'application/json' as const,
  };
  if (what === 'access') {
    const asked = {
      ...request,
      method: 'GET',
      path: '/api/a',
      authorization: `Bearer ${handed}`,
      form: new Map(),
    } as const;
    return respondTo(stage.app, state, asked, clock).visitor.account === 'ann';
  }
  const form = new Map([['grant_type', 'refresh_token']]).set('refresh_token', handed);
  const asked = {
    ...request,
    method: 'POST',
    path: stage.app.policy.tokens?.submit.path ?? '',
    authorization: '',
    form,
  } as const;
  return respondTo(stage.app, state, asked, clock).response.status === 200;
}

describe('a credential counts just as long as the app takes it', () => {
  const OUT = '{ logout: }';
  test.each<[name: string, parts: Parameters<typeof policyText>[0], steps: string[]]>([
    ['after a login', usual, [LOGIN]],
    ['where refresh tokens do not rotate', { ...usual, more: MORE('life: 10m, rotates: false') }, [LOGIN]],
    ['where there is no longest', { ...usual, more: MORE('life: 10m, rotates: true') }, [LOGIN]],
    [
      'with a token that was exchanged, in its grace',
      { ...usual, more: MORE(ROTATING).replace('never', '59s') },
      [LOGIN, '{ wait: 2s }', '{ send: GET /api/a }'],
    ],
    [
      'with a token whose reuse is accepted',
      { ...usual, more: MORE(`${ROTATING}, reuse: accept`).replace('never', '59s') },
      [LOGIN, '{ wait: 2s }', '{ send: GET /api/a }'],
    ],
    [
      'after a logout that ends everything',
      { ...usual, logout: 'logout: { submit: POST /out, ends: [session, access, refresh, remember] }' },
      [LOGIN, OUT],
    ],
    [
      'after a logout that ends nothing',
      { ...usual, logout: 'logout: { submit: POST /out, ends: [] }' },
      [LOGIN, OUT],
    ],
    ['after a logout that leaves access tokens', usual, [LOGIN, OUT]],
    ['of an account that is suspended', usual, [LOGIN, '{ suspend: ann }']],
    [
      'of an account that is suspended, where tokens carry roles',
      { ...usual, more: MORE(ROTATING).replace('each-request', 'in-token') },
      [LOGIN, '{ suspend: ann }'],
    ],
    ['of an account that is gone', usual, [LOGIN, '{ delete-account: ann }']],
    [
      'after an hour of use',
      usual,
      [LOGIN, '{ wait: 25m }', '{ visit: /desk }', '{ wait: 20m }', '{ visit: /desk }'],
    ],
    ['with a cookie that was used', usual, [LOGIN, '{ wait: 31m }', '{ visit: /desk }']],
  ])('%s', (name, parts, steps) => {
    const all = after(parts, steps);
    let taken = 0;
    for (const what of CREDENTIALS) {
      const kind = CREDENTIAL_KINDS[what];
      for (let index = 0; index < kind.recorded(all.state); index++) {
        const handed = handle(what, index);
        for (const wait of [
          0, 27, 28, 30, 31, 58, 64, 65, 66, 597, 600, 601, 1799, 1800, 3598, 3600, 28_799, 28_800, 86_399,
          86_400,
        ]) {
          const time = all.time + wait;
          const isGood = counts(all.stage, all.state, what, handed, new FixedClock(time));
          expect([handed, wait, isGood]).toEqual([handed, wait, isTaken(all, what, handed, time)]);
          if (isGood) taken += 1;
        }
      }
      expect(counts(all.stage, all.state, what, `${what}-99`, new FixedClock(all.time))).toBe(false);
      expect(kind.ownerOf(all.state, 98)).toBe(undefined);
      expect(kind.recordsOf(all.state, 98)).toEqual(what === 'session' ? ['session 98'] : []);
    }
    expect(taken > 0).toBe(!/everything|is gone|is suspended$/.test(name));
  });
});

test('a panel tells what a browser holds, why it does not count, and what is left of each limit', () => {
  const told = ({ stage, state, browser, time }: Played, wait: number) =>
    holdingsOf(stage, state, browser, time + wait).map(
      ({ handle: of, counts: isGood, because, left }) =>
        `${of} ${isGood ? 'counts' : (because ?? 'over')} ${left.map(({ limit, seconds }) => `${limit} ${seconds}`).join(', ')}`,
    );
  const all = after(usual, [LOGIN, '{ wait: 10m }', '{ visit: /desk }']);
  expect(told(all, 0)).toEqual([
    'session-1 counts idle 1800, absolute 28200',
    'access-1 over life 0',
    'refresh-1 over life 0, longest 3000',
    'remember-1 counts life 85800',
  ]);
  expect(told(all, 1800)).toEqual([
    'session-1 idle-expired idle 0, absolute 26400',
    'access-1 over life 0',
    'refresh-1 over life 0, longest 1200',
    'remember-1 counts life 84000',
  ]);
  const coded = after(
    {
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk], second-factor: true } }',
      pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests } }',
      session: 'session: { idle: 30m }',
      more: 'second-factor: { page: /code, submit: POST /code, life: 3m }',
    },
    ['{ login: ann }', '{ wait: 1m }', '{ visit: / }'],
  );
  expect(told(coded, 0)).toEqual(['session-1 code-needed idle 1740, code 120']);
  for (const [step, because] of [
    ['{ suspend: ann }', 'suspended'],
    ['{ delete-account: ann }', 'account-gone'],
    ['{ logout: }', 'signed-out'],
  ] as const) {
    const ended = after(
      { session: 'session: { idle: 30m }', logout: 'logout: { submit: POST /out, clears: [] }' },
      ['{ login: ann }', step],
    );
    expect(told(ended, 0)).toEqual([`session-1 ${because} idle 1800`]);
  }
  const guest = after({ session: 'session: { idle: 30m, starts: at-first-visit }' }, ['{ visit: / }']);
  expect(told(guest, 0)).toEqual(['session-1 guest idle 1800']);
  expect(recordsOf(guest.stage, guest.state, 0).map(({ handle: of, account }) => `${of} ${account}`)).toEqual(
    ['session-1 guest'],
  );
  expect(
    recordsOf(all.stage, all.state, all.time).map(({ handle: of, account }) => `${of} ${account}`),
  ).toEqual(CREDENTIALS.map((what) => `${what}-1 ann`));
});

test('each deadline is the first second at which what it is of is over, and is there only with its limit', () => {
  const all = after(usual, [LOGIN]);
  const at = (who: Played) =>
    DEADLINES.map((deadline) => [
      deadlineOf(who.stage, who.state, who.browser, deadline, who.time),
      hasDeadline(who.stage.app.policy, deadline),
    ]);
  expect(at(all)).toEqual([
    [1800, true],
    [28_800, true],
    [65, true],
    [600, true],
    [null, false],
    [null, true],
    [86_400, true],
  ]);
  const paused = after(usual, [
    '{ login: { as: ann, password: no } }',
    '{ login: { as: ann, password: no } }',
    '{ wait: 1m }',
    '{ login: { as: bo, password: no } }',
    '{ login: { as: bo, password: no } }',
  ]);
  expect(at(paused).slice(5)).toEqual([
    [60 + 420, true],
    [null, true],
  ]);
  const bare = after({ login: 'login: { page: /in, submit: POST /in }', session: 'session: {}' }, [
    '{ visit: / }',
  ]);
  expect(at(bare)).toEqual(DEADLINES.map(() => [null, false]));
});

describe('what a browser has is given to another', () => {
  const all = after({ ...usual, accounts: 'accounts: { ann: { password: a-1, roles: [clerk] } }' }, [LOGIN]);
  const clock = new FixedClock(all.time);
  const other = after(usual, ['{ login: bo }']).browser;

  test.each(CREDENTIALS)('%s alone, in the place of its own', (what) => {
    expect(heldBy(all.stage, NEW_BROWSER, clock)).toEqual([]);
    const alone = given(all.stage, all.browser, NEW_BROWSER, { isCopy: true, what }, clock);
    if (alone === null) throw new Error('nothing was given');
    expect(heldBy(all.stage, alone, clock)).toEqual([what]);
    expect(handleOf(all.stage, alone, what, clock)).toBe(`${what}-1`);
    for (const isCopy of [true, false]) {
      const both = given(all.stage, all.browser, { ...other, cookies: [] }, { isCopy, what }, clock);
      expect(both && handleOf(all.stage, both, what, clock)).toBe(`${what}-1`);
      const kept = given(all.stage, all.browser, other, { isCopy, what }, clock);
      for (const each of CREDENTIALS.filter((one) => one !== what)) {
        expect(kept && handleOf(all.stage, kept, each, clock)).toBe(handleOf(all.stage, other, each, clock));
      }
    }
    expect(given(all.stage, NEW_BROWSER, all.browser, { isCopy: true, what }, clock)).toBe(null);
  });

  test('a copied cookie has no end, a planted one ends as it did', () => {
    const [copied, planted] = [true, false].map((isCopy) =>
      given(all.stage, all.browser, NEW_BROWSER, { isCopy, what: 'remember' }, clock)?.cookies.map(
        ({ life }) => life,
      ),
    );
    expect([copied, planted]).toEqual([[null], [86_400]]);
  });
});

test('tokens in cookies are given with what script knows of them', () => {
  const kept = {
    ...usual,
    more: MORE(ROTATING)
      .replace('access: { life: 60s,', 'access: { life: 60s, kept: cookie,')
      .replace('rotates: true', 'kept: cookie, rotates: true'),
  };
  const all = after(kept, [LOGIN]);
  const clock = new FixedClock(all.time);
  for (const what of ['access', 'refresh'] as const) {
    const to = given(all.stage, all.browser, NEW_BROWSER, { isCopy: true, what }, clock);
    expect(to && heldBy(all.stage, to, clock)).toEqual([what]);
    expect(to?.tab.tokens).toEqual(all.browser.tab.tokens);
  }
});

test('handles of an account, and the records that a credential leads to', () => {
  const all = after(usual, [LOGIN, '{ login: bo, in: other }']);
  const both = CREDENTIALS.map((what) => [
    handedOut(all.state, null).flatMap(({ kind, owner, handle }) =>
      kind.name === what && owner === 'ann' ? [handle] : [],
    ),
    handedOut(all.state, null).flatMap(({ kind, owner, handle }) =>
      kind.name === what && owner === 'bo' ? [handle] : [],
    ),
    CREDENTIAL_KINDS[what].recordsOf(all.state, 1),
  ]);
  expect(both).toEqual([
    [['session-1'], ['session-2'], ['session 1', 'family 1']],
    [['access-1'], ['access-2'], ['family 1']],
    [['refresh-1'], ['refresh-2'], ['family 1']],
    [['remember-1'], [], []],
  ]);
  expect(['session-1', 'access-2', 'remember-1', 'link-1'].map((each) => loginOf(all.state, each))).toEqual([
    0, 1, 0, -1,
  ]);
});

test.each([
  ['an absolute limit', { session: 'session: { idle: 30m, absolute: 8h }' }, [28_800, null, null, null]],
  ['an idle limit that use renews', { session: 'session: { idle: 30m }' }, [null, null, null, null]],
  [
    'an idle limit that nothing renews',
    { session: 'session: { idle: 30m, renews: never }' },
    [1800, null, null, null],
  ],
  ['a refresh token with a longest', usual, [28_800, 65, 3665, null]],
  ['one without', { ...usual, more: MORE('life: 10m, rotates: true') }, [28_800, 65, null, null]],
  [
    'one that does not rotate',
    { ...usual, more: MORE('life: 10m, rotates: false') },
    [28_800, 65, 665, null],
  ],
])('the longest that a copy works, with %s', (_name, parts, longest) => {
  const { policy } = project(policyText(parts)).stage.app;
  expect(CREDENTIALS.map((what) => CREDENTIAL_KINDS[what].longest(policy))).toEqual(longest);
});

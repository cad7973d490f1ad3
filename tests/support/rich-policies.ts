import fc from 'fast-check';
import { policyText } from './policies';

const ROLES = ['clerk', 'chief', 'guide'];
const some = <Of>(...of: Of[]) => fc.constantFrom(...of);
const seconds = (...of: number[]) => some(...of).map((each) => `${each}s`);

/** Who may see a page, by roles of which some include others, by what they lack, and by how fresh a login is. */
const audience = some(
  'signed-in',
  'clerk',
  '[clerk, guide]',
  '{ all: [clerk, guide] }',
  '{ any: [clerk], none: [guide] }',
  '{ any: [chief], login-within: 3s }',
  '{ none: [clerk] }',
  'guests',
);

/** Facts, tenants, switches and the age of an account, with the pages and people that they are for. */
const more = fc.record({
  facts: some('', ', facts: { club: oak, terms: open }', ', facts: { club: [oak, elm] }'),
  joined: some('', ', joined: 2s'),
  sets: some('', ', sets: { terms: done }', ', sets: { terms: open, club: }'),
  terms: some('signed-in', '{ facts: { terms: open } }', 'clerk'),
  sale: some('{ flags: { sale: on } }', '{ any: [clerk], flags: { sale: off } }'),
  club: some(
    "{ facts: { club: ':club' } }",
    "{ any: [clerk], facts: { club: ':club' } }",
    '{ facts: { club: [oak, elm] } }',
  ),
  tour: some('{ joined-within: 5s }', '{ facts: { terms: [open, done] } }'),
  refusals: some('', ', refusals: { role: /b, guest: 404 }', ', refusals: { role: landing }'),
  barrier: some(
    '',
    'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms], returns: true }]',
    'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, api: 403 }]',
    'barriers: [{ name: sold, stops: { flags: { sale: on }, none: [guide] }, answers: 503 }]',
  ),
});

const landing = fc
  .tuple(
    fc.subarray(['{ role: chief, to: /a }', '{ role: guide, to: /b }', '{ role: clerk, to: /a }']),
    some('{ otherwise: / }', '{ otherwise: /b }'),
  )
  .map(([entries, last]) => `landing: [${[...entries, last].join(', ')}]`);

const session = fc
  .record({
    idle: fc.option(seconds(4, 6)),
    absolute: fc.option(seconds(7, 9)),
    renews: some('each-request', 'past-half', 'never'),
    roles: some('each-request', 'each-request', 'at-login'),
    kept: some('store', 'store', 'memory', 'sealed'),
    atOnce: some('any', 'any', 'latest-wins', 'first-wins'),
    sameSite: some('lax', 'lax', 'strict', 'none', 'unset'),
    starts: some('at-login', 'at-login', 'with-a-form'),
    byRole: some('', '', ', by-role: [{ role: guide, idle: 2s }, { role: clerk, absolute: 5s }]'),
  })
  .map(
    (each) =>
      `session: { ${each.idle === null ? '' : `idle: ${each.idle}, `}${each.absolute === null ? '' : `absolute: ${each.absolute}, `}starts: ${each.starts}, renews: ${each.renews}, roles: ${each.roles}, kept: ${each.kept}, at-once: ${each.atOnce}, cookie: { same-site: ${each.sameSite} }${each.byRole} }`,
  );

const tokens = fc.record({
  rotates: fc.boolean(),
  reuse: some('end-family', 'refuse', 'accept'),
  grace: some('', ', grace: 1s'),
  longest: some('', ', longest: 9s'),
  roles: some('in-token', 'each-request'),
  kept: some('page', 'browser', 'cookie'),
  when: some('refused', 'never', '1s'),
});

/** A second login, which takes some. */
const door = fc.record({
  takes: some('', ', takes: [chief]', ', takes: [guide, clerk]'),
  landing: some('', ', landing: [{ otherwise: /a }]', ', landing: [{ role: guide, to: /b }]'),
  return: some('', ', return: {}'),
  renews: some(true, true, false),
  attempts: some('', ', attempts: { most: 1, within: 3s, pause: 2s }'),
});

/** An identity provider, whoever acts for others, and a machine; each may be left out. */
const newer = fc.record({
  provider: fc.option(
    fc.record({
      checks: some('state: checked', 'state: ignored, pkce: false, nonce: ignored', 'state: absent'),
      session: some('', ', session: 3s'),
      asks: fc.boolean(),
      logout: some('app-only', 'provider-too'),
    }),
  ),
  acting: fc.option(
    fc.record({
      by: some('chief', 'guide', 'clerk'),
      of: some('clerk', 'guide'),
      life: some('', ', life: 3s'),
      not: some('', ', not: /a'),
      kept: some('session', 'session', 'account'),
    }),
  ),
  key: fc.option(fc.record({ life: some('', ', life: 5s'), overlap: some('0s', '2s') })),
});

const LEFT_OUT = [
  'newer',
  'more',
  'door',
  'tokens',
  'return',
  'as-role',
  'remember',
  'csrf',
  'promise',
  'cache',
  'code',
] as const;

/**
 * Policies that have several roles, a landing list, return addresses, tokens that rotate, remembering and codes at once, some careful
 * and some not.
 */
export const richPolicies = fc
  .record({
    given: fc.subarray(ROLES, { minLength: 1 }),
    isHalf: some(false, false, true),
    pages: fc.tuple(audience, audience, audience),
    write: fc.option(some('clerk', 'guests', '[guide]')),
    refusal: some('403', 'landing', '/b'),
    loads: fc.boolean(),
    guard: some('', '', ', guard: browser'),
    forward: some('', ', forward: landing'),
    landing,
    login: fc.record({
      by: some('session', 'tokens', 'both'),
      renews: some(true, true, false),
      return: some(
        '',
        ', return: {}',
        ', return: { accept: anything }',
        ', return: { only-if-allowed: true }',
      ),
      asRole: some('', '', ', as-role: true'),
    }),
    ends: fc.subarray(['session', 'access', 'refresh', 'remember']),
    everywhere: fc.boolean(),
    session,
    tokens,
    remember: fc.option(
      fc.record({ rotates: fc.boolean(), reuse: some('end-series', 'refuse'), fresh: fc.boolean() }),
    ),
    csrf: some('', '', 'csrf: { token: per-session }', 'csrf: { origin: checked }'),
    promise: fc.option(
      fc.record({
        after: some('logout', 'role-removed', 'suspended', 'password-changed'),
        copied: some('session', 'access', 'refresh'),
        most: seconds(0, 1, 4),
      }),
    ),
    cache: some('', 'back-button: cached'),
    more,
    newer,
    door,
    /** What is left out, since all of it together has very many situations: one policy in four leaves out nothing. */
    without: fc.oneof(
      { weight: 1, arbitrary: fc.constant<(typeof LEFT_OUT)[number][]>([]) },
      { weight: 3, arbitrary: fc.subarray([...LEFT_OUT], { minLength: 3 }) },
    ),
  })
  .map((all) => {
    const has = (part: (typeof LEFT_OUT)[number]) => !all.without.includes(part);
    const each = {
      ...all,
      login: {
        ...all.login,
        by: has('tokens') ? all.login.by : 'session',
        return: has('return') ? all.login.return : '',
        asRole: has('as-role') ? all.login.asRole : '',
      },
      remember: has('remember') ? all.remember : null,
      csrf: has('csrf') ? all.csrf : '',
      promise: has('promise') ? all.promise : null,
      cache: has('cache') ? all.cache : '',
      isHalf: has('code') && all.isHalf,
    };
    // Where a login hands out tokens alone there is neither.
    const isSaid = has('newer') && each.login.by !== 'tokens';
    const provider = isSaid ? each.newer.provider : null;
    const acting = isSaid ? each.newer.acting : null;
    const key = has('newer') ? each.newer.key : null;
    const { login, tokens: rules, remember, promise } = each;
    const hasTokens = login.by !== 'session';
    const [a, b, api] = each.pages;
    const write = each.write === null ? '' : `, write: ${each.write}`;
    const hasCode = each.isHalf && login.by === 'session';
    const { more: further } = each;
    const isMore = has('more');
    const front = `{ page: /in, submit: POST /in, by: ${login.by}, renew-session-id: ${login.renews}${login.return}${login.asRole} }`;
    return policyText({
      roles: 'roles: { clerk: [], chief: [clerk], guide: [] }',
      accounts: `accounts: { ann: { password: a-1, roles: [${each.given.join(', ')}]${hasCode ? ', second-factor: true' : ''}${isMore ? further.facts + further.joined : ''} }${acting === null ? '' : ', dee: { password: d-4, roles: [clerk, guide] }'}${key === null ? '' : ', bot: { key: true, roles: [guide] }'} }`,
      pages: [
        'pages:',
        '  /: { for: everyone }',
        '  /in: { for: guests }',
        hasCode ? '  /in/code: { for: guests }' : '',
        `  /a: { for: ${a}${write}${each.loads && hasTokens ? ', loads: [GET /api/x]' : ''}${each.guard} }`,
        `  /b: { for: ${b}${each.forward}${has('door') ? ', refusals: { guest: staff }' : ''} }`,
        has('door') ? '  /staff: { for: guests }' : '',
        isMore ? `  /terms: { for: ${further.terms}${further.sets}${further.refusals} }` : '',
        isMore
          ? `  /sale: { for: ${further.sale}, parts: { buy: { text: Buy, for: [guide], sends: POST /terms } } }`
          : '',
        isMore ? `  /clubs/:club: { for: ${further.club} }` : '',
        isMore ? `  /tour: { for: ${further.tour}${further.refusals} }` : '',
        `  /api/x: { for: ${api === 'guests' ? 'clerk' : api}, kind: api }`,
      ]
        .filter((text) => text !== '')
        .join('\n'),
      rules: `refusals: { role: ${each.refusal} }`,
      login: has('door')
        ? `logins: { front: ${front}, staff: { page: /staff, submit: POST /staff, renew-session-id: ${each.door.renews}${each.door.takes}${each.door.landing}${each.door.return}${each.door.attempts} } }`
        : `login: ${front}`,
      landing: each.landing,
      logout: `logout: { submit: POST /out, ends: [${each.ends.join(', ')}], everywhere: ${each.everywhere} }`,
      session: each.session,
      more: [
        hasTokens
          ? `tokens: { access: { life: 2s, kept: ${rules.kept} }, refresh: { life: 4s, rotates: ${rules.rotates}, reuse: ${rules.reuse}, kept: ${rules.kept}${rules.rotates ? rules.grace + rules.longest : ''} }, roles: ${rules.roles}, refresh-when: ${rules.when} }`
          : '',
        remember === null
          ? ''
          : `remember: { life: 6s, rotates: ${remember.rotates}${remember.rotates ? `, reuse: ${remember.reuse}` : ''}, counts-as: { fresh: ${remember.fresh} } }`,
        hasCode ? 'second-factor: { page: /in/code, submit: POST /in/code, life: 3s }' : '',
        each.csrf,
        promise === null
          ? ''
          : `promises: [{ after: ${promise.after}, copied: ${promise.copied}, works-at-most: ${promise.most} }]`,
        each.cache,
        isMore ? `flags: { sale: off }\n${further.barrier}` : '',
        provider === null
          ? ''
          : `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example }, ${provider.checks}${provider.session}, asks-again: ${provider.asks}, logout: ${provider.logout} } }`,
        acting === null
          ? ''
          : `impersonation: { start: POST /as/:who, stop: POST /self, by: ${acting.by}, of: ${acting.of}${acting.life}${acting.not}, kept: ${acting.kept} }`,
        key === null ? '' : `api-keys: { overlap: ${key.overlap}${key.life} }`,
      ]
        .filter((text) => text !== '')
        .join('\n'),
    });
  });

import type { policyText } from '../../support/policies';

const LOGIN = 'login: { page: /in, submit: POST /in, attempts: { most: 5, within: 5m, pause: 5m }';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }';
type Parts = Parameters<typeof policyText>[0];

const ACCOUNTS = 'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief]';
const BO = `${ACCOUNTS} } }`;
const BO_WITH_CODE = `${ACCOUNTS}, second-factor: true } }`;
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m }';
const WITH = (more: string) => ({ pages: `${PAGES}, ${more} }` });
const WALK = '{ name: W, steps: [{ visit: /, status: 200 }] }';
/** Expressions whose counts share no factor, so that only all combinations would tell. */
const INTRICATE = [...[331, 337].map((step) => `^/(?:.{${step}})*.{1,${step - 1}}$`), '^/.+$'];

/** Of each check the smallest bad policy, what it says of it, and the nearest good one. */
export const CASES: [code: string, bad: Parts, words: string, good: Parts][] = [
  ['no-way-in', { login: null, logout: null }, 'the policy has no login: nobody can ever be signed in', {}],
  [
    'login-page-closed',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: signed-in }')} }`, refusals: '' } as Parts,
    'guests are refused at the login page /in',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: everyone }')} }` },
  ],
  [
    'redirect-target-missing',
    { login: `${LOGIN}, wrong: /sorry }` },
    '/sorry is no page: whoever is sent there gets a 404',
    { login: `${LOGIN}, wrong: /sorry }`, pages: `${PAGES}, /sorry: { for: everyone } }` },
  ],
  [
    'redirect-target-missing',
    { logout: 'logout: { submit: POST /out, lands: /out }' },
    '/out answers POST only: whoever is sent there gets a 405',
    { logout: 'logout: { submit: POST /out, lands: /in?bye }' },
  ],
  [
    'redirect-loop',
    { more: 'refusals: { role: /desk }' },
    'cy is sent round in a circle: /desk → /desk',
    { more: 'refusals: { role: /hall }' },
  ],
  [
    'redirect-loop',
    { landing: 'landing: [{ otherwise: /in }]' },
    'ann is sent round in a circle: /in → /in',
    { landing: 'landing: [{ otherwise: /hall }]' },
  ],
  [
    // Of the addresses that nothing is about, one is tried for all of them.
    'redirect-loop',
    {
      landing: 'landing: [{ role: clerk, to: /gone }, { otherwise: / }]',
      more: 'refusals: { unknown: /nowhere }',
    },
    'a guest is sent round in a circle: /nowhere → /nowhere',
    { more: 'refusals: { unknown: / }' },
  ],
  [
    'landing-refused',
    { landing: 'landing: [{ role: clerk, to: /safe }, { otherwise: / }]' },
    'the account ann lands at /safe and is refused there',
    { landing: 'landing: [{ role: chief, to: /safe }, { otherwise: / }]' },
  ],
  [
    'landing-refused',
    { accounts: 'accounts: {}', landing: 'landing: [{ role: [chief, clerk], to: /safe }, { otherwise: / }]' },
    'the role clerk lands at /safe and is refused there',
    {
      accounts: 'accounts: {}',
      landing: 'landing: [{ role: chief, to: /safe }, { role: [chief, clerk], to: /desk }, { otherwise: / }]',
    },
  ],
  [
    'landing-unmatched',
    { landing: 'landing: [{ role: clerk, to: /desk }]' },
    'no landing entry is for the account cy',
    { landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]' },
  ],
  ['landing-unmatched', { landing: null }, 'there is a login but no landing for anybody', {}],
  [
    'rule-never-matches',
    {
      rules:
        'rules: [{ path: /a/*, for: clerk }, { path: [/a, /a/*/*/**], for: clerk }, { path: /a/**, for: chief }]',
    },
    'no address reaches /a/**: rules 1 and 2 take them all, /a too',
    {
      rules:
        'rules: [{ path: /a/*, for: clerk }, { path: /a/*/*/**, for: clerk }, { path: /a/**, for: chief }]',
    },
  ],
  [
    'audience-unsatisfiable',
    { rules: 'rules: [{ path: /x, for: { any: chief, none: clerk } }]' },
    'nobody can be in this audience: whoever holds the roles it asks for holds clerk too',
    { rules: 'rules: [{ path: /x, for: { any: [chief, clerk], none: chief } }]' },
  ],
  [
    'audience-unsatisfiable',
    { pages: `${PAGES}, /x: { read: everyone, write: { all: chief, none: clerk } } }` },
    'nobody can be in this audience: whoever holds the roles it asks for holds clerk too',
    { pages: `${PAGES}, /x: { read: everyone, write: { all: clerk, none: chief } } }` },
  ],
  [
    'return-address-careless',
    { login: `${LOGIN}, return: { accept: leading-slash } }` },
    'accept: leading-slash takes the return address //wreckers.example/, which leads to https://wreckers.example',
    { login: `${LOGIN}, return: { accept: { listed: [/desk] } } }` },
  ],
  [
    'return-address-careless',
    { login: `${LOGIN}, return: { accept: anything, only-if-allowed: false } }` },
    'accept: anything takes the return address https://wreckers.example/, which leads to https://wreckers.example',
    { login: `${LOGIN}, return: { accept: never } }` },
  ],
  [
    'session-without-limit',
    { session: null },
    'sessions have neither an idle nor an absolute limit: they never end by themselves',
    { session: 'session: { absolute: 8h }' },
  ],
  [
    'logout-of-shown-only',
    { logout: 'logout: { submit: POST /out, of: shown }', more: 'remember: { life: 14d }' },
    'a logout ends no more than what the browser shows, though a login brings the session and the remember token',
    { logout: 'logout: { submit: POST /out, of: shown }' },
  ],
  [
    'logout-ends-too-little',
    { logout: 'logout: { submit: POST /out, ends: [] }' },
    'a logout clears the browser but leaves the session good in the app',
    { logout: 'logout: { submit: POST /out, ends: [session] }' },
  ],
  [
    'logout-ends-too-little',
    {
      login: `${LOGIN}, by: both }`,
      logout: 'logout: { submit: POST /out, clears: [session], ends: [session] }',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d } }',
    },
    'a logout leaves the refresh token good in the app',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d } }',
    },
  ],
  [
    'submit-differs',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: everyone }')} }` },
    'the account ann is refused the login form but may send it',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: guests }')} }` },
  ],
  [
    'submit-differs',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: everyone, write: guests }')} }` },
    'the account ann is shown the login form but refused when sending it',
    {},
  ],
  [
    'landing-never-reached',
    { landing: 'landing: [{ role: clerk, to: /desk }, { role: chief, to: /safe }, { otherwise: / }]' },
    'nobody lands at /safe by this entry: the one for clerk takes them all',
    {},
  ],
  [
    'landing-never-reached',
    { landing: 'landing: [{ otherwise: / }, { role: chief, to: /safe }]' },
    'nobody lands at /safe by this entry: the one for otherwise takes them all',
    { landing: 'landing: [{ role: chief, to: /safe }, { otherwise: / }]' },
  ],
  [
    'logout-landing-bounces',
    { logout: 'logout: { submit: POST /out, lands: /desk }' },
    'a logout lands at /desk, which refuses guests; they end at /in',
    { logout: 'logout: { submit: POST /out, lands: /in }' },
  ],
  [
    'audience-nobody-holds',
    { roles: 'roles: { clerk: [], chief: [clerk], king: [] }', rules: 'rules: [{ path: /x, for: king }]' },
    'no account of the policy is in this audience',
    {
      roles: 'roles: { clerk: [], chief: [clerk], king: [] }',
      rules: 'rules: [{ path: /x, for: [king, chief] }]',
    },
  ],
  [
    'write-looser-than-read',
    { pages: `${PAGES}, /x: { read: chief, write: clerk } }` },
    'the account ann may send to /x without being allowed to see it',
    { pages: `${PAGES}, /x: { read: clerk, write: chief } }` },
  ],
  [
    'write-looser-than-read',
    { rules: 'rules: [{ path: /x, read: signed-in, write: everyone }]' },
    'a guest may send to the addresses of rule 1 without being allowed to see it',
    { rules: 'rules: [{ path: /x, read: everyone, write: signed-in }]' },
  ],
  [
    'page-looser-than-rule',
    { rules: 'rules: [{ path: /hall, for: chief }]' },
    '/hall lets the account ann in, whom rule 1 keeps out',
    { rules: 'rules: [{ path: /hall, for: signed-in }, { path: /hall/*, for: chief }]' },
  ],
  [
    'decided-by-otherwise',
    { pages: `${PAGES}, /x: {}, /y: { write: chief } }` },
    'only otherwise decides who sees /x or /y',
    {
      pages: `${PAGES}, /x: {}, /y: { write: chief } }`,
      rules: 'rules: [{ path: [/x, /y], for: signed-in }]',
    },
  ],
  [
    'role-unused',
    { roles: 'roles: { clerk: [], chief: [clerk], king: [] }' },
    'nobody holds the role king, and nothing asks for it',
    { roles: 'roles: { clerk: [], chief: [clerk], king: [chief] }' },
  ],
  [
    'return-address-unused',
    { more: 'refusals: { guest: 401 }' },
    'no refusal sends guests to the login, so a return address is never handed on',
    { more: 'refusals: { guest: 401 }', login: `${LOGIN} }` },
  ],
  [
    'origin-in-plain-http',
    { origin: 'origin: http://app.example' },
    'people log in over plain http at http://app.example',
    { origin: 'origin: http://localhost:8080' },
  ],
  [
    'cookie-never-kept',
    { origin: 'origin: http://app.example' },
    'no browser keeps the cookie session: it is secure, but the app is served over plain http',
    { origin: 'origin: http://127.0.0.1' },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { name: __Host-s, secure: false } }' },
    'no browser keeps the cookie __Host-s: the start of its name asks for secure',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { name: __Host-s } }' },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { same-site: none, secure: false } }' },
    'no browser keeps the cookie session: same-site: none asks for secure',
    {},
  ],
  [
    'cookie-not-secure',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { secure: false } }' },
    'the session cookie session is sent over plain http too',
    {},
  ],
  [
    'cookie-readable-by-script',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { http-only: false } }' },
    'script in any page can read the session cookie session',
    {},
  ],
  [
    'cookie-sent-across-sites',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { same-site: none } }' },
    'other sites can make requests that carry the session cookie session',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { same-site: lax } }' },
  ],
  [
    'rule-never-matches',
    {
      rules:
        'rules: [{ path: /Safe/**, for: chief }, { path: /safe/**, for: signed-in }, { path: /**, for: signed-in }]',
      pages: 'pages: { /in: { for: guests }, /safe: {}, /desk: {} }',
      landing: 'landing: [{ otherwise: /desk }]',
      logout: 'logout: { submit: POST /out, lands: /in }',
      more: 'routing: { letter-case: ignored }',
    },
    'no address reaches /safe/**: rule 1 takes them all, /safe too',
    {
      rules: 'rules: [{ path: /Safe/**, for: chief }, { path: /**, for: signed-in }]',
      pages: 'pages: { /in: { for: guests }, /safe: {}, /desk: {} }',
      landing: 'landing: [{ otherwise: /desk }]',
      logout: 'logout: { submit: POST /out, lands: /in }',
      more: 'routing: { letter-case: ignored }',
    },
  ],
  [
    'cookie-life-differs',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { life: 4m59s } }' },
    'the cookie is gone after 4m59s, before the idle limit of 5m counts',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { life: 5m } }' },
  ],
  [
    'cookie-life-differs',
    { session: 'session: { absolute: 5m, cookie: { life: 1h } }' },
    'the cookie stays for 1h, but no session lives longer than 5m',
    { session: 'session: { absolute: 5m, cookie: { life: 5m } }' },
  ],
  [
    'idle-never-reached',
    { session: 'session: { idle: 8h, absolute: 8h }' },
    'no session is ever idle for 8h: each ends after 8h',
    { session: 'session: { idle: 7h59m59s, absolute: 8h }' },
  ],
  [
    'logout-by-get',
    { logout: 'logout: { submit: [POST /out, GET /leave] }' },
    'GET /leave logs out, and a GET is made by any link or picture',
    { logout: 'logout: { submit: [POST /out, POST /leave] }' },
  ],
  [
    'tokens-never-used',
    { more: 'tokens: { access: { life: 5m } }' },
    'the login hands no tokens out (login.by is session)',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m } }' },
  ],
  [
    'tokens-never-used',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d }, refresh-when: never }',
    },
    'the refresh token is handed out and never used',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m }, refresh-when: never }' },
  ],
  [
    'access-outlives-refresh',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 1h }, refresh: { life: 1h, longest: 30d } }',
    },
    'the access token lives 1h, the refresh token only 1h',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 59m }, refresh: { life: 1h, longest: 30d } }',
    },
  ],
  [
    'access-life-long',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 1h1s } }' },
    'an access token is good for 1h1s whatever happens to its account',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 1h } }' },
  ],
  [
    'leeway-too-long',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m, leeway: 5m } }' },
    'an access token of 5m is taken for 5m more after its end',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m, leeway: 4m59s } }' },
  ],
  [
    'refresh-without-rotation',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d, rotates: false } }',
    },
    'refresh tokens do not rotate: a stolen one works unnoticed to its end',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d, rotates: true } }',
    },
  ],
  [
    'cookie-strict-loses-links',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { same-site: strict } }' },
    'the cookie session does not come along with links from other sites: signed-in visitors arrive as guests',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { same-site: lax } }' },
  ],
  [
    'attempts-without-limit',
    { login: 'login: { page: /in, submit: POST /in }' },
    'the login takes any number of wrong passwords',
    { login: `${LOGIN} }` },
  ],
  [
    'session-id-kept',
    { login: `${LOGIN}, renew-session-id: false }` },
    'a session id from before the login stays good after it',
    { login: `${LOGIN}, renew-session-id: true }` },
  ],
  [
    'guests-only-returns',
    { more: 'refusals: { guests-only: /in }' },
    'a signed-in visitor who is turned away from a page for guests is sent to /in, which is for guests too',
    { more: 'refusals: { guests-only: 403 }' },
  ],
  [
    'landings-differ',
    { pages: `${PAGES}, /hello: { for: signed-in, forward: [{ otherwise: /desk }] } }`, accounts: BO },
    'the account bo lands at /safe after the login, but at /desk after opening /hello',
    { pages: `${PAGES}, /hello: { for: signed-in, forward: landing } }`, accounts: BO },
  ],
  [
    'landings-differ',
    {
      pages: `${PAGES}, /join: { for: guests } }`,
      more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], lands: / }',
    },
    'a new account lands at /desk after the login, but at / after sign-up',
    {
      pages: `${PAGES}, /join: { for: guests } }`,
      more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk] }',
    },
  ],
  [
    'landings-differ',
    { pages: `${PAGES}, /hall: { for: signed-in } }`, more: 'refusals: { guests-only: /hall }' },
    'the account ann lands at /desk after the login, but at /hall after coming back to a page for guests',
    { more: 'refusals: { guests-only: landing }' },
  ],
  [
    'rule-never-matches',
    { rules: 'rules: [{ matches: ^/a, for: clerk }, { matches: "^/a/b(/|$)", for: chief }]' },
    'no address reaches ^/a/b(/|$): rule 1 takes them all, /a/b too',
    { rules: 'rules: [{ matches: "^/a/[c-z]", for: clerk }, { matches: "^/a/b(/|$)", for: chief }]' },
  ],
  [
    'rule-never-matches',
    {
      rules:
        'rules: [{ matches: "^/a/[a-m]", for: clerk }, { matches: "^/a/[^a-m]", for: clerk }, { path: /a/*, for: chief }]',
    },
    'no address reaches /a/*: rules 1 and 2 take them all, /a/x too',
    {
      rules:
        'rules: [{ matches: "^/a/[a-m]$", for: clerk }, { matches: "^/a/[n-z]$", for: clerk }, { path: /a/*, for: chief }]',
    },
  ],
  [
    'rule-never-matches',
    { rules: 'rules: [{ matches: "^a", for: clerk }]' },
    'no address can match ^a',
    { rules: 'rules: [{ matches: "^/a", for: clerk }]' },
  ],
  [
    'rule-never-matches',
    {
      rules:
        'rules: [{ path: /a, from: 10.0.0.0/9, for: clerk }, { path: /a, from: 10.128.0.0/9, for: clerk }, { path: /a, from: 10.0.0.0/8, methods: [GET, POST], for: chief }]',
    },
    'no address reaches /a: rules 1 and 2 take them all',
    {
      rules:
        'rules: [{ path: /a, from: 10.0.0.0/9, methods: GET, for: clerk }, { path: /a, host: b.example, for: clerk }, { path: /a, from: 10.0.0.0/8, methods: [GET, POST], for: chief }]',
    },
  ],
  [
    'rule-unsettled',
    { rules: `rules: [${INTRICATE.map((source) => `{ matches: '${source}', for: clerk }`).join(', ')}]` },
    `whether any address reaches ${INTRICATE.at(-1) ?? ''} could not be settled: the rules before it are too intricate`,
    { rules: "rules: [{ matches: '^/a{40}/', for: clerk }, { matches: '^/(a|b)+$', for: chief }]" },
  ],
  [
    'rule-order-doubtful',
    {
      pages: `${PAGES}, /a/b: {} }`,
      rules: 'rules: [{ path: /*/b, for: clerk }, { path: /a/**, for: chief }]',
    },
    'rule 1 decides at /a/b although rule 2 names it more closely',
    {
      pages: `${PAGES}, /a/b: {} }`,
      rules: 'rules: [{ path: /a/**, for: chief }, { path: /*/b, for: clerk }]',
    },
  ],
  [
    'pattern-repeated',
    { rules: 'rules: [{ path: [/a/:id, /a/*], for: clerk }]' },
    '/a/* adds nothing to rule 1: its other patterns cover the same addresses',
    { rules: 'rules: [{ path: [/a/:id, /a], for: clerk }]' },
  ],
  ...(
    [
      ['letter-case: ignored', 'GET /safE'],
      ['expressions: as-sent', 'GET /safe/'],
      ['expressions: as-sent, trailing-slash: different', 'GET /saf%65'],
    ] as const
  ).map(([routing, spelled]): (typeof CASES)[number] => [
    'rule-stepped-around',
    {
      rules: "rules: [{ matches: '^/safe$', for: chief }, { path: /**, for: signed-in }]",
      pages: 'pages: { /in: { for: guests }, /safe: {}, /desk: {} }',
      landing: 'landing: [{ otherwise: /desk }]',
      logout: 'logout: { submit: POST /out, lands: /in }',
      more: `routing: { ${routing} }`,
    },
    `${spelled} is open to the account ann, and the same page as /safe, which is not`,
    {
      rules: 'rules: [{ path: /safe, for: chief }, { path: /**, for: signed-in }]',
      pages: 'pages: { /in: { for: guests }, /safe: {}, /desk: {} }',
      landing: 'landing: [{ otherwise: /desk }]',
      logout: 'logout: { submit: POST /out, lands: /in }',
      more: `routing: { ${routing} }`,
    },
  ]),
  [
    'cookie-life-differs',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { life: 1h, renewed: false } }' },
    'the session is renewed and its cookie is not: visitors lose it after 1h, whoever copied it does not',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { life: 1h } }' },
  ],
  [
    'expression-past-segment',
    { pages: `${PAGES}, /new: {}, /newsletter: {} }`, rules: 'rules: [{ matches: ^/new, for: clerk }]' },
    '^/new also takes /newsletter, past the end of a segment',
    {
      pages: `${PAGES}, /new: {}, /new/box: {}, /newsletter: { for: everyone } }`,
      rules: 'rules: [{ matches: "^/new(/|$)", for: clerk }]',
    },
  ],
  [
    'data-laxer-than-page',
    { pages: `${PAGES}, /a: { for: chief, loads: [GET /api/a] }, /api/a: { for: clerk, kind: api } }` },
    'GET /api/a, which /a loads, is open to the account ann, who may not see the page',
    { pages: `${PAGES}, /a: { for: chief, loads: [GET /api/a] }, /api/a: { for: chief, kind: api } }` },
  ],
  [
    'guarded-in-browser-only',
    { pages: `${PAGES}, /a: { for: chief, guard: browser } }` },
    '/a is given to anybody, and nothing that it shows is guarded by the app',
    {
      pages: `${PAGES}, /a: { for: chief, guard: browser, loads: [GET /api/a] }, /api/a: { for: chief, kind: api } }`,
    },
  ],
  [
    'data-laxer-than-page',
    WITH(
      '/vault: { for: chief, loads: [GET /api/it] }, /cellar: { for: chief, loads: [GET /api/it] }, /api/it: { for: clerk, kind: api }',
    ),
    'GET /api/it, which /vault and 1 more load, is open to the account ann, who may see none of them',
    WITH(
      '/vault: { for: chief, loads: [GET /api/it] }, /cellar: { for: clerk, loads: [GET /api/it] }, /api/it: { for: clerk, kind: api }',
    ),
  ],
  [
    'data-laxer-than-page',
    WITH(
      '/vault: { for: chief, loads: [GET /api/of/vault, GET /api/of/vault] }, /open: { for: signed-in, loads: [GET /api/of/open] }, /api/of/:what: { for: signed-in, kind: api }',
    ),
    'GET /api/of/vault, which /vault loads, is open to the account ann, who may not see the page',
    WITH(
      '/vault: { for: chief, loads: [GET /api/of/vault] }, /open: { for: signed-in, loads: [GET /api/of/vault] }, /api/of/:what: { for: signed-in, kind: api }',
    ),
  ],
  [
    'data-without-second-factor',
    {
      pages: `${PAGES}, /code: { for: everyone }, /a: { for: { any: chief, second-factor: true }, loads: [GET /api/a] }, /api/a: { for: chief, kind: api } }`,
      accounts: BO_WITH_CODE,
      more: CODE,
    },
    '/a asks for a one-time code, but GET /api/a answers without one',
    {
      pages: `${PAGES}, /code: { for: everyone }, /a: { for: { any: chief, second-factor: true }, loads: [GET /api/a] }, /api/a: { for: { any: chief, second-factor: true }, kind: api } }`,
      accounts: BO_WITH_CODE,
      more: CODE,
    },
  ],
  [
    'menu-link-refuses',
    { more: 'menu: [{ to: /safe, text: Safe, for: clerk }]' },
    'the account ann is shown the link to /safe and refused there',
    { more: 'menu: [{ to: /safe, text: Safe }]' },
  ],
  [
    'menu-hides-open-page',
    { more: 'menu: [{ to: /desk, text: Desk, for: chief }]' },
    'the link to /desk is hidden from the account ann, but the page is open to them',
    { more: 'menu: [{ to: /desk, text: Desk, for: clerk }]' },
  ],
  [
    'roles-read-at-login',
    { session: 'session: { idle: 30m, absolute: 8h, roles: at-login }' },
    'a role taken from somebody who is signed in stays theirs until they log in again',
    { session: 'session: { idle: 30m, absolute: 8h, roles: each-request }' },
  ],
  [
    'sealed-outlives-logout',
    { session: 'session: { idle: 30m, absolute: 8h, kept: sealed }' },
    'a copy of the sealed cookie stays good after the logout, for up to 8h',
    { session: 'session: { idle: 30m, absolute: 8h, kept: memory }' },
  ],
  [
    'kept-for-back-button',
    { more: 'back-button: cached' },
    'after a logout the back button still shows protected pages',
    { more: 'back-button: no-store' },
  ],
  [
    'kept-for-back-button',
    { pages: `${PAGES}, /a: { for: clerk, cache: cached } }` },
    'after a logout the back button still shows /a',
    { pages: `${PAGES}, /a: { for: everyone, cache: cached } }` },
  ],
  [
    'cookie-never-kept',
    { more: 'proxy: { ends-tls: true, trusted: false }' },
    'no browser keeps the cookie session: it is secure, and behind a proxy that it does not trust the app believes that it speaks plain http',
    { more: 'proxy: { ends-tls: true, trusted: true }' },
  ],
  ...[
    [
      'refresh-reuse-accepted',
      'refresh: { life: 1h, longest: 30d, reuse: accept }',
      'a refresh token that was already changed for another is taken again',
      'refresh: { life: 1h, longest: 30d, reuse: end-family }',
    ],
    [
      'refresh-reuse-accepted',
      'refresh: { life: 1h, longest: 30d, reuse: refuse }',
      'a refresh token that comes a second time is refused, but whoever holds its successor goes on',
      'refresh: { life: 1h, longest: 30d }',
    ],
    [
      'grace-too-long',
      'refresh: { life: 1h, longest: 30d, grace: 61s }',
      'a refresh token that was changed for another is still answered for 1m1s',
      'refresh: { life: 1h, longest: 30d, grace: 1m }',
    ],
    [
      'refresh-unshared',
      'refresh: { life: 1h, longest: 30d }, shared-refresh: false',
      'two requests that find the access token expired refresh with the same token, and the second is taken for a thief',
      'refresh: { life: 1h, longest: 30d, grace: 10s }, shared-refresh: false',
    ],
  ].map(([code = '', bad = '', words = '', good = '']): [string, Parts, string, Parts] => [
    code,
    { login: `${LOGIN}, by: both }`, more: `tokens: { access: { life: 5m }, ${bad} }` },
    words,
    { login: `${LOGIN}, by: both }`, more: `tokens: { access: { life: 5m }, ${good} }` },
  ]),
  [
    'token-endpoint-closed',
    {
      login: `${LOGIN}, by: both }`,
      rules: 'rules: [{ path: /oauth/**, for: signed-in }]',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d } }',
    },
    '/oauth/token refuses whoever comes with a refresh token only',
    {
      login: `${LOGIN}, by: both }`,
      rules: 'rules: [{ path: /oauth/token, for: everyone }, { path: /oauth/**, for: signed-in }]',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d } }',
    },
  ],
  [
    'refresh-unshared',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m, kept: browser }, refresh: { life: 1h, longest: 30d }, shared-refresh: in-tab }',
    },
    'two tabs that find the access token expired refresh with the same token, and the second is taken for a thief',
    {
      login: `${LOGIN}, by: both }`,
      more: 'tokens: { access: { life: 5m, kept: tab }, refresh: { life: 1h, longest: 30d }, shared-refresh: in-tab }',
    },
  ],
  [
    'tokens-kept-in-browser',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m, kept: browser } }' },
    'the access token lies where every script of the site can read them, also after the tab is closed',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m, kept: tab } }' },
  ],
  [
    'walk-name-repeated',
    { more: `walks: [${WALK}, ${WALK}]` },
    'another walk is called W too',
    { more: `walks: [${WALK}, { name: V, steps: [{ visit: /, status: 200 }] }]` },
  ],
  [
    'step-asserts-nothing',
    { more: 'walks: [{ name: W, steps: [{ login: ann }, { visit: / }] }]' },
    'nothing is expected of any step of this walk',
    { more: 'walks: [{ name: W, steps: [{ login: ann }, { visit: /, lands: / }] }]' },
  ],
  [
    'step-asserts-nothing',
    { more: 'walks: [{ name: W, steps: [{ login: ann, lands: /desk }, { logout: }] }]' },
    'nothing is expected of the last step of this walk',
    { more: 'walks: [{ name: W, steps: [{ login: ann }, { logout: , lands: / }] }]' },
  ],
  ...[
    [
      'why: refresh-expired',
      'why',
      'nothing gives refresh-expired where the policy has no tokens.refresh',
      'why: idle-expired',
    ],
    [
      'why: forwarded',
      'why',
      'nothing gives forwarded where the policy has no page with forward',
      'why: served',
    ],
    ['refreshes: 1', 'refreshes', 'there are no refresh tokens', 'refreshes: 0'],
    ['shows: /desk', 'shows', 'no menu link leads to /desk', 'hides: /desk'],
    ['why: served, status: 403', 'status', 'whoever is served gets no 403', 'why: role, status: 403'],
  ].map(([bad = '', key = '', because = '', good = '']): [string, Parts, string, Parts] => [
    'expectation-impossible',
    { more: `walks: [{ name: W, steps: [{ visit: /, ${bad} }] }]` },
    `${key} can never be so: ${because}`,
    { more: `walks: [{ name: W, steps: [{ visit: /, ${good} }] }]` },
  ]),
];

/** A page, by default guarded, with what is said of it. */
const REMEMBER = (more: string) => `remember: { life: 30d${more} }`;
const JOIN = (more: string, then = 'login') =>
  `sign-up: { page: /join, submit: POST /join, roles: [clerk], then: ${then}${more} }`;
const TOKENED = `${LOGIN}, by: tokens }`;
const LASTING = 'tokens: { access: { life: 5m }, refresh: { life: 1h, longest: 30d } }';

/** Flaws of writing, of openings, of ways in and of credentials, each with the nearest good policy. */
export const FURTHER_CASES: typeof CASES = [
  [
    'write-left-open',
    WITH('/x: { read: [chief] }'),
    'the account ann may send POST to /x without being allowed to see it: otherwise decides on that',
    WITH('/x: { for: [chief] }'),
  ],
  [
    'write-left-open',
    { ...WITH('/x: { read: clerk }'), rules: 'rules: [{ path: /x/**, for: everyone }]' },
    'a guest may send POST to /x without being allowed to see it: another rule decides on that',
    {
      ...WITH('/x: { for: clerk }'),
      accepted: '',
      rules: 'rules: [{ path: /y/**, for: everyone }]',
    } as Parts,
  ],
  [
    'write-left-open',
    {
      ...WITH('/x: { read: { any: clerk, login-within: 10m } }'),
      rules: 'rules: [{ path: /x, for: clerk }]',
    },
    'the account ann long after the login may send POST to /x without being allowed to see it: another rule decides on that',
    WITH('/x: { for: { any: clerk, login-within: 10m } }'),
  ],
  [
    'method-looser',
    {
      ...WITH('/x: {}'),
      rules: 'rules: [{ path: /x, methods: [POST], for: chief }, { path: /x, for: clerk }]',
    },
    'the account ann may send PUT to /x, but not POST',
    {
      ...WITH('/x: {}'),
      rules:
        'rules: [{ path: /x, methods: [POST, PUT, PATCH, DELETE], for: chief }, { path: /x, for: clerk }]',
    },
  ],
  [
    'method-looser',
    WITH('/x: { for: clerk, write: chief, methods: { DELETE: clerk } }'),
    'the account ann may send DELETE to /x, but not POST',
    WITH('/x: { for: clerk, methods: { DELETE: chief } }'),
  ],
  [
    'write-without-code',
    {
      ...WITH(
        '/code: { for: guests }, /pay: { for: { any: chief, second-factor: true } }, /pay/out: { read: signed-in, write: chief }',
      ),
      accounts: BO_WITH_CODE,
      more: CODE,
    },
    'the account bo without a one-time code may send POST to /pay/out, below /pay, which asks for a one-time code',
    {
      ...WITH(
        '/code: { for: guests }, /pay: { for: { any: chief, second-factor: true } }, /pay/out: { read: signed-in, write: { any: chief, second-factor: true } }',
      ),
      accounts: BO_WITH_CODE,
      more: CODE,
    },
  ],
  [
    'below-left-open',
    {
      ...WITH('/x: { for: chief }, /x/y: {}'),
      rules: 'rules: [{ path: /x, for: chief }, { path: /x/y, for: everyone }]',
    },
    '/x is closed, but /x/y below it is open to a guest',
    { ...WITH('/x: { for: chief }, /x/y: {}'), rules: 'rules: [{ path: /x/**, for: chief }]' },
  ],
  [
    'owner-branch-open',
    WITH('/u/:id: { for: { account: id } }, /u/:id/log: { for: signed-in }'),
    '/u/:id is for the account that :id names, but /u/:id/log below it is open to others',
    WITH(
      '/u/:id: { for: { account: id } }, /u/:id/log: { for: { account: id } }, /u/:id/check: { for: chief }',
    ),
  ],
  [
    'open-rule-crosses-closed',
    {
      ...WITH('/x/a: {}, /f/a.js: {}'),
      rules: "rules: [{ matches: '\\.js$', for: everyone }, { path: /x/**, for: chief }]",
    },
    'rule 1 opens /x/.js to a guest, to whom rule 2 would close it',
    {
      ...WITH('/x/a: {}, /f/a.js: {}'),
      rules: "rules: [{ matches: '^/f/[a-z]*\\.js$', for: everyone }, { path: /x/**, for: chief }]",
    },
  ],
  [
    'case-differs',
    { ...WITH('/x: {}'), rules: 'rules: [{ path: /X/**, for: chief }]' },
    '/X/** and /x differ in letter case alone: neither says anything of the other',
    { ...WITH('/x: {}'), rules: 'rules: [{ path: /x/**, for: chief }]' },
  ],
  [
    'rule-bound-elsewhere-open',
    {
      ...WITH('/x: {}'),
      rules: 'rules: [{ path: /x, from: 10.0.0.0/8, for: chief }, { path: /x, for: everyone }]',
    },
    'rule 1 closes /x from 10.0.0.0/8 only: elsewhere it is open to a guest',
    {
      ...WITH('/x: {}'),
      rules: 'rules: [{ path: /x, from: 10.0.0.0/8, for: clerk }, { path: /x, for: chief }]',
    },
  ],
  [
    'host-opens-everything',
    { rules: 'rules: [{ path: /**, host: in.example, for: everyone }]' },
    'rule 1 opens every address to whoever names the host in.example',
    { rules: 'rules: [{ path: /**, host: in.example, for: clerk }]' },
  ],
  [
    'network-host-bits',
    {
      ...WITH('/x: {}'),
      rules: 'rules: [{ path: /x, from: 192.168.0.0/8, for: clerk }, { path: /x, for: chief }]',
    },
    '192.168.0.0/8 is every address that shares the first 8 bits of 192.168.0.0: what stands behind them counts for nothing',
    {
      ...WITH('/x: {}'),
      rules: 'rules: [{ path: /x, from: 192.168.0.0/16, for: clerk }, { path: /x, for: chief }]',
    },
  ],
  [
    'pattern-looks-foreign',
    WITH('"/x/{id}": { for: clerk }'),
    '{id} in /x/{id} is matched as it stands, letter by letter',
    WITH('/x/:id: { for: clerk }'),
  ],
  [
    'promise-contradicted',
    { more: 'promises: [{ only: chief, reach: /desk }]' },
    '/desk is promised to chief only, but the account ann may see it',
    { more: 'promises: [{ only: clerk, reach: /desk }]' },
  ],
  [
    'confirmation-unused',
    { more: 'confirm: { path: /confirm/:token, life: 1d }' },
    'no account waits for the confirmation: signing up does not ask for it',
    {
      ...WITH('/join: { for: guests }'),
      more: `${JOIN(', lands: /in', 'confirm')}\nconfirm: { path: /confirm/:token, life: 1d }`,
    },
  ],
  [
    'way-closed-to-guests',
    { ...WITH('/code: { for: signed-in }'), accounts: BO_WITH_CODE, more: CODE },
    'the code page /code is closed to guests, who have to use it',
    { ...WITH('/code: { for: guests }'), accounts: BO_WITH_CODE, more: CODE },
  ],
  [
    'way-closed-to-guests',
    {
      ...WITH('/join: { for: guests }'),
      rules: 'rules: [{ path: /confirm/**, for: signed-in }]',
      more: `${JOIN(', lands: /in', 'confirm')}\nconfirm: { path: /confirm/:token, life: 1d }`,
    },
    'the confirmation link /confirm/x is closed to guests, who have to use it',
    {
      ...WITH('/join: { for: guests }'),
      more: `${JOIN(', lands: /in', 'confirm')}\nconfirm: { path: /confirm/:token, life: 1d }`,
    },
  ],
  [
    'sign-up-landing-refused',
    { ...WITH('/join: { for: guests }'), more: JOIN(', lands: /safe') },
    'a new account lands at /safe and is refused there',
    { ...WITH('/join: { for: guests }'), more: JOIN(', lands: /desk') },
  ],
  [
    'sign-up-gives-much',
    { ...WITH('/join: { for: guests }'), more: JOIN('').replace('[clerk]', '[chief]') },
    'whoever signs up holds chief, which opens /safe; with clerk they land as well',
    { ...WITH('/join: { for: guests }'), more: JOIN('') },
  ],
  [
    'sign-up-gives-much',
    {
      pages: `${PAGES.replace('[clerk]', '[clerk, chief]')}, /join: { for: guests } }`,
      roles: 'roles: { clerk: [], chief: [] }',
      more: JOIN(', lands: /hall').replace('[clerk]', '[chief]'),
    },
    'whoever signs up holds chief, which opens /safe; with clerk they land as well',
    { ...WITH('/join: { for: guests }'), more: JOIN(', lands: /safe').replace('[clerk]', '[chief]') },
  ],
  [
    'loads-refused',
    WITH('/x: { for: clerk, loads: [GET /api/x] }, /api/x: { for: chief, kind: api }'),
    'the account ann may see /x, but is refused GET /api/x, which it loads',
    WITH('/x: { for: clerk, loads: [GET /api/x] }, /api/x: { for: clerk, kind: api }'),
  ],
  [
    'loads-refused',
    WITH('/x: { for: clerk, loads: [GET /api/x] }'),
    '/x loads GET /api/x, which is no page: it answers 404',
    WITH('/x: { for: clerk, loads: [GET /api/x] }, /api/x: { for: clerk, kind: api }'),
  ],
  [
    'page-needs-session',
    {
      login: TOKENED,
      more: LASTING,
      landing: 'landing: [{ otherwise: / }]',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /d: { for: clerk }, /api/d: { for: clerk, kind: api } }',
    },
    'the app guards /d, but no request of a page carries a token: nobody can ever see it',
    {
      login: TOKENED,
      more: LASTING,
      landing: 'landing: [{ otherwise: / }]',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /d: { for: clerk, guard: browser, loads: [GET /api/d] }, /api/d: { for: clerk, kind: api } }',
    },
  ],
  [
    'cookie-sent-across-sites',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { same-site: unset } }' },
    'other sites can make requests that carry the session cookie session while it is younger than two minutes',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { same-site: lax } }' },
  ],
  [
    'cookie-names-clash',
    { more: REMEMBER(', cookie: { name: session }') },
    'the session cookie and the remember cookie have the same name, session',
    { more: REMEMBER('') },
  ],
  [
    'cookie-names-clash',
    { more: REMEMBER(', cookie: { name: stand-in-refusal }') },
    'the remember cookie and that of cavrin serve itself have the same name, stand-in-refusal',
    { more: REMEMBER('') },
  ],
  [
    'cookie-not-secure',
    { more: REMEMBER(', cookie: { secure: false }') },
    'the remember cookie remember is sent over plain http too',
    { more: REMEMBER('') },
  ],
  [
    'cookie-never-kept',
    { more: REMEMBER(', cookie: { name: __Host-keep, secure: false }') },
    'no browser keeps the cookie __Host-keep: the start of its name asks for secure',
    { more: REMEMBER(', cookie: { name: __Host-keep }') },
  ],
  [
    'remember-without-rotation',
    { more: REMEMBER(', rotates: false') },
    'remember tokens do not rotate: a copied one works unnoticed to its end',
    { more: REMEMBER('') },
  ],
  [
    'remember-life-long',
    { more: 'remember: { life: 365d }' },
    'whoever has the remember cookie is signed in for 365d',
    { more: REMEMBER('') },
  ],
  [
    'remember-counts-as-code',
    {
      ...WITH('/code: { for: guests }'),
      accounts: BO_WITH_CODE,
      more: `${CODE}\n${REMEMBER(', counts-as: { code: given }')}`,
    },
    'whoever comes back by the remember cookie is taken to have given the one-time code',
    { ...WITH('/code: { for: guests }'), accounts: BO_WITH_CODE, more: `${CODE}\n${REMEMBER('')}` },
  ],
  [
    'idle-never-renewed',
    { session: 'session: { idle: 30m, absolute: 8h, renews: never }' },
    'nothing renews a session: it is over 30m after the login, however busy its owner is',
    { session: 'session: { absolute: 8h, renews: never }' },
  ],
  [
    'login-without-end',
    { session: 'session: { idle: 30m }' },
    'a session with an idle limit and no absolute one never ends while somebody uses it',
    { session: 'session: { idle: 30m, absolute: 8h }' },
  ],
  [
    'refresh-past-longest',
    {
      login: TOKENED.replace('tokens', 'both'),
      more: 'tokens: { access: { life: 5m }, refresh: { life: 40d, longest: 30d } }',
      ...WITH('/api/d: { for: clerk, kind: api }'),
    },
    'a refresh token would live for 40d, but no login lasts longer than 30d',
    { login: TOKENED.replace('tokens', 'both'), more: LASTING, ...WITH('/api/d: { for: clerk, kind: api }') },
  ],
  [
    'logout-clears-too-little',
    { logout: 'logout: { submit: POST /out, clears: [] }' },
    'a logout leaves the session cookie in the browser',
    {},
  ],
  [
    'attempts-limit-doubtful',
    { login: LOGIN.replace('pause: 5m }', 'pause: 2d } }') },
    'a few wrong passwords lock an account for 2d, whoever typed them',
    {},
  ],
  [
    'attempts-limit-doubtful',
    { login: LOGIN.replace('within: 5m, pause: 5m }', 'within: 5s, pause: 5s } }') },
    'a script still has 86400 guesses a day at each account',
    {},
  ],
  [
    'code-easily-guessed',
    { ...WITH('/code: { for: guests }'), accounts: BO_WITH_CODE, more: CODE.replace('5m', '1d') },
    'a one-time code is good for 3 tries and 1d',
    { ...WITH('/code: { for: guests }'), accounts: BO_WITH_CODE, more: CODE },
  ],
  [
    'password-in-plain-http',
    { ...WITH('/x: {}'), rules: 'rules: [{ path: /x, scheme: https, for: clerk }]' },
    'the form at /in is answered over plain http too',
    { rules: 'rules: [{ path: /**, scheme: https }]' },
  ],
];

const TWO_RULES = (first: string, second: string): Parts => ({
  ...WITH('/x/a: {}, /f/a.js: {}'),
  rules: `rules: [${first}, ${second}]`,
});
const OPEN_FILES = "{ matches: '\\.js$', for: everyone }";

/** Policies on which a check has nothing to say, although much of what it looks for is there. */
export const QUIET: [code: string, why: string, parts: Parts][] = [
  ['kept-for-back-button', 'nobody logs in', { login: null, logout: null, more: 'back-button: cached' }],
  ['kept-for-back-button', 'nobody logs out', { logout: null, more: 'back-button: cached' }],
  [
    'kept-for-back-button',
    'what is kept is for everybody',
    { pages: 'pages: { /: { for: everyone }, /in: { for: guests } }', more: 'back-button: cached' },
  ],
  [
    'landings-differ',
    'nobody logs in',
    {
      ...WITH('/hello: { for: everyone, forward: [{ otherwise: /desk }] }'),
      login: null,
      logout: null,
    },
  ],
  [
    'landings-differ',
    'whoever lands elsewhere is suspended',
    {
      ...WITH('/hello: { for: signed-in, forward: [{ otherwise: /desk }] }'),
      accounts:
        'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief], state: suspended } }',
    },
  ],
  [
    'menu-hides-open-page',
    'the page is for everybody',
    { more: 'menu: [{ to: /, text: Home, for: chief }]' },
  ],
  ['menu-hides-open-page', 'the page is for guests', { more: 'menu: [{ to: /in, text: In, for: chief }]' }],
  [
    'open-rule-crosses-closed',
    'the closed one goes first',
    TWO_RULES('{ path: /x/**, for: chief }', OPEN_FILES),
  ],
  ['open-rule-crosses-closed', 'both are open', TWO_RULES(OPEN_FILES, '{ path: /x/**, for: everyone }')],
  [
    'open-rule-crosses-closed',
    'the other says only who writes',
    TWO_RULES(OPEN_FILES, '{ path: /x/**, write: chief }'),
  ],
  [
    'data-laxer-than-page',
    'who may not see one page may see another that loads the same',
    WITH(
      '/hall-of-all: { for: signed-in, loads: [GET /api/me] }, /vault: { for: chief, loads: [GET /api/me] }, /api/me: { for: signed-in, kind: api }',
    ),
  ],
  [
    'data-laxer-than-page',
    'two pages that load the same are each for some of those whom it is for',
    WITH(
      '/one: { for: { all: [clerk], any: clerk, none: chief }, loads: [GET /api/it] }, /two: { for: chief, loads: [GET /api/it] }, /api/it: { for: clerk, kind: api }',
    ),
  ],
  [
    'data-without-second-factor',
    'a page that asks for no code loads the same',
    {
      ...WITH(
        '/code: { for: everyone }, /b: { for: chief, loads: [GET /api/me] }, /a: { for: { any: chief, second-factor: true }, loads: [GET /api/me] }, /api/me: { for: chief, kind: api }',
      ),
      accounts: BO_WITH_CODE,
      more: CODE,
    },
  ],
  [
    'data-without-second-factor',
    'what is loaded is no page',
    {
      ...WITH(
        '/code: { for: everyone }, /a: { for: { any: chief, second-factor: true }, loads: [GET /nowhere] }',
      ),
      accounts: BO_WITH_CODE,
      more: CODE,
    },
  ],
  [
    'roles-read-at-login',
    'nobody logs in',
    { login: null, logout: null, session: 'session: { idle: 30m, roles: at-login }' },
  ],
  [
    'roles-read-at-login',
    'no session is handed out',
    {
      login: `${LOGIN}, by: tokens }`,
      session: 'session: { roles: at-login }',
      more: 'tokens: { access: { life: 5m } }',
    },
  ],
];

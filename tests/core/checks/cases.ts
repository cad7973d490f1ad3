import type { policyText } from '../../support/policies';

const LOGIN = 'login: { page: /in, submit: POST /in';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }';
type Parts = Parameters<typeof policyText>[0];

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
    'no address reaches /a/**: rules 1 and 2 take them all',
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
    'logout-ends-too-little',
    { logout: 'logout: { submit: POST /out, ends: [] }' },
    'a logout clears the browser but leaves the session good in the app',
    { logout: 'logout: { submit: POST /out, clears: [], ends: [session] }' },
  ],
  [
    'logout-ends-too-little',
    {
      login: `${LOGIN}, by: both }`,
      logout: 'logout: { submit: POST /out, clears: [session], ends: [session] }',
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
    },
    'a logout leaves the refresh token good in the app',
    { login: `${LOGIN}, by: both }`, more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }' },
  ],
  [
    'login-submit-differs',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: everyone }')} }` },
    'the account ann is refused the login form but may send it',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: guests }')} }` },
  ],
  [
    'login-submit-differs',
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
    { session: 'session: { idle: 5m, cookie: { name: __Host-s, secure: false } }' },
    'no browser keeps the cookie __Host-s: the start of its name asks for secure',
    { session: 'session: { idle: 5m, cookie: { name: __Host-s } }' },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { idle: 5m, cookie: { same-site: none, secure: false } }' },
    'no browser keeps the cookie session: same-site: none asks for secure',
    {},
  ],
  [
    'cookie-not-secure',
    { session: 'session: { idle: 5m, cookie: { secure: false } }' },
    'the session cookie session is sent over plain http too',
    {},
  ],
  [
    'cookie-readable-by-script',
    { session: 'session: { idle: 5m, cookie: { http-only: false } }' },
    'script in any page can read the session cookie session',
    {},
  ],
  [
    'cookie-sent-across-sites',
    { session: 'session: { idle: 5m, cookie: { same-site: none } }' },
    'other sites can make requests that carry the session cookie session',
    { session: 'session: { idle: 5m, cookie: { same-site: strict } }' },
  ],
  [
    'cookie-life-differs',
    { session: 'session: { idle: 5m, cookie: { life: 4m59s } }' },
    'the cookie is gone after 4m59s, before the idle limit of 5m counts',
    { session: 'session: { idle: 5m, cookie: { life: 5m } }' },
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
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 5m } }' },
  ],
  [
    'tokens-never-used',
    {
      login: `${LOGIN}, by: tokens }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h }, refresh-when: never }',
    },
    'the refresh token is handed out and never used',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 5m }, refresh-when: never }' },
  ],
  [
    'access-outlives-refresh',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 1h }, refresh: { life: 1h } }' },
    'the access token lives 1h, the refresh token only 1h',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 59m }, refresh: { life: 1h } }' },
  ],
  [
    'access-life-long',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 1h1s } }' },
    'an access token is good for 1h1s whatever happens to its account',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 1h } }' },
  ],
  [
    'leeway-too-long',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 5m, leeway: 5m } }' },
    'an access token of 5m is taken for 5m more after its end',
    { login: `${LOGIN}, by: tokens }`, more: 'tokens: { access: { life: 5m, leeway: 4m59s } }' },
  ],
  [
    'refresh-without-rotation',
    {
      login: `${LOGIN}, by: tokens }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, rotates: false } }',
    },
    'refresh tokens do not rotate: a stolen one works unnoticed to its end',
    {
      login: `${LOGIN}, by: tokens }`,
      more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, rotates: true } }',
    },
  ],
];

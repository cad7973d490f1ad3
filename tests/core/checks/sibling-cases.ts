import type { CASES, QUIET } from './cases';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const with_ = (pages: string) => ({ pages: `${PAGES}, ${pages} }` });
const SPLIT = {
  roles: 'roles: { clerk: [], chief: [], aide: [] }',
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] }, di: { password: d-4, roles: [aide] } }',
};
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }';
const TEAM = '/teams/:team: { for: signed-in }';

const ACTING =
  "impersonation: { start: POST /as/:who, stop: POST /back, by: [chief], of: clerk, not: ['/me/**']";
const PROVIDER = (rest: string) =>
  `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example }, logout: provider-too${rest} } }`;

/** What holds for one feature and for its siblings. */
export const SIBLING_CASES: typeof CASES = [
  [
    'parameter-unbound',
    { ...with_(TEAM), landing: 'landing: [{ role: clerk, to: /teams/:team }, { otherwise: / }]' },
    'people are sent to /teams/:team as it stands: nothing says what :team is',
    with_(TEAM),
  ],
  [
    'parameter-unbound',
    { ...with_('/bye/:lang: { for: everyone }'), logout: 'logout: { submit: POST /out, lands: /bye/:lang }' },
    'people are sent to /bye/:lang as it stands: nothing says what :lang is',
    with_(`${TEAM}, /teams/:team/note: { for: signed-in, after-write: /teams/:team }`),
  ],
  [
    'after-write-refused',
    with_('/note: { for: signed-in, after-write: /safe }'),
    'the account ann may send to /note, and is refused at /safe afterwards',
    with_('/note: { for: [chief], after-write: /safe }'),
  ],
  [
    'flag-in-place-of-role',
    {
      ...with_('/safe/trial: { for: { flags: { trial: on } } }'),
      more: 'flags: { trial: on }',
    },
    '/safe/trial asks for a switch alone: the account ann may see it, and not /safe above it',
    {
      ...with_('/safe/trial: { for: { any: chief, flags: { trial: on } } }'),
      more: 'flags: { trial: on }',
    },
  ],
  [
    'link-lives-long',
    {
      ...with_('/join: { for: guests }'),
      more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm }\nconfirm: { path: /confirm/:token, life: 365d }',
    },
    'the link that confirms an account is good for 365d',
    {
      ...with_('/join: { for: guests }'),
      more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm }\nconfirm: { path: /confirm/:token, life: 2d }',
    },
  ],
  [
    'role-limit-shadowed',
    {
      session:
        'session: { idle: 30m, absolute: 8h, by-role: [{ role: clerk, idle: 10m }, { role: chief, idle: 5m }] }',
    },
    'whoever holds chief holds clerk, whose limits come first: these limit nobody',
    {
      session:
        'session: { idle: 30m, absolute: 8h, by-role: [{ role: chief, idle: 5m }, { role: clerk, idle: 10m }] }',
    },
  ],
  [
    'remember-counts-as-fresh',
    {
      ...with_('/pay: { for: { login-within: 10m } }'),
      more: 'remember: { life: 14d, counts-as: { fresh: true } }',
    },
    'whoever comes back by the remember cookie is taken to have just logged in',
    { ...with_('/pay: { for: { login-within: 10m } }'), more: 'remember: { life: 14d }' },
  ],
  [
    'role-spares-code',
    {
      ...SPLIT,
      pages: `${PAGES.replace('[chief]', '[chief, aide]')}, /code: { for: guests } }`,
      more: CODE,
    },
    'aide opens all that chief does, which owes a one-time code, and owes none',
    {
      ...SPLIT,
      pages: `${PAGES.replace('[chief]', '[chief, aide]')}, /code: { for: guests }, /vault: { for: [chief] } }`,
      more: CODE,
    },
  ],
  [
    'sign-up-gives-much',
    {
      ...SPLIT,
      ...with_('/code: { for: guests }, /join: { for: guests }, /kiosk: { for: [aide] }'),
      more: `${CODE}\nsign-up: { page: /join, submit: POST /join, roles: [chief], then: nothing, lands: /in }`,
    },
    'whoever signs up holds chief, which opens /safe; with clerk they land as well',
    {
      ...SPLIT,
      ...with_('/code: { for: guests }, /join: { for: guests }, /kiosk: { for: [aide] }'),
      more: `${CODE}\nsign-up: { page: /join, submit: POST /join, roles: [aide], then: nothing, lands: /in }`,
    },
  ],
  [
    'fact-self-given',
    with_(
      "/me/club: { for: signed-in, sets: { club: oak } }, /clubs/:club: { for: { facts: { club: ':club' } } }",
    ),
    'whoever is signed in may send to /me/club, and so be of club oak',
    with_(
      "/me/club: { for: [chief], sets: { club: oak } }, /clubs/:club: { for: { facts: { club: ':club' } } }",
    ),
  ],
  [
    'write-without-fresh-login',
    with_('/me: { for: { login-within: 10m } }, /me/mail: { for: signed-in }'),
    'the account ann long after the login may send POST to /me/mail, below /me, which asks for a fresh login',
    with_('/me: { for: { login-within: 10m } }, /me/mail: { read: signed-in, write: { login-within: 10m } }'),
  ],
  [
    'open-rule-crosses-closed',
    {
      pages: `${PAGES}, /api/a: { kind: api }, /api/b: { kind: api } }`,
      rules: "rules: [{ matches: '^/api/a', for: signed-in }, { path: /api/*, for: [chief] }]",
    },
    'rule 1 opens /api/a to the account ann, to whom rule 2 would close it',
    {
      pages: `${PAGES}, /api/a: { kind: api }, /api/b: { kind: api } }`,
      rules: "rules: [{ matches: '^/api/a$', for: signed-in }, { path: /api/*, for: [chief] }]",
    },
  ],
  [
    'landing-never-reached',
    {
      logout:
        'logout: { submit: POST /out, lands: [{ role: clerk, to: / }, { role: chief, to: /in }, { otherwise: / }] }',
    },
    'nobody lands at /in by this entry: the one for clerk takes them all',
    {
      logout:
        'logout: { submit: POST /out, lands: [{ role: chief, to: /in }, { role: clerk, to: / }, { otherwise: / }] }',
    },
  ],
  [
    'after-write-refused',
    {
      ...with_('/me/password: { for: signed-in }'),
      more: 'password: { change: { page: /me/password, submit: POST /me/password, lands: /safe } }',
    },
    'the account ann may send to /me/password, and is refused at /safe afterwards',
    {
      ...with_('/me/password: { for: signed-in }'),
      more: 'password: { change: { page: /me/password, submit: POST /me/password, lands: /hall } }',
    },
  ],
  [
    'limit-never-reached',
    with_('/pay: { for: { login-within: 9h } }'),
    'a login of 9h is never reached: each session ends after 8h',
    with_('/pay: { for: { login-within: 10m } }'),
  ],
  [
    'limit-never-reached',
    { more: `${ACTING}, life: 10h }` },
    'acting for somebody of 10h is never reached: each session ends after 8h',
    { more: `${ACTING}, life: 1h }` },
  ],
  [
    'provider-counts-as-fresh',
    { ...with_('/pay: { for: { login-within: 10m } }'), more: PROVIDER('') },
    'a login by port-id counts as fresh, though the provider asks for no password',
    {
      ...with_('/pay: { for: { login-within: 10m } }'),
      more: PROVIDER(', asks-again: true'),
    },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { domain: example } }' },
    'no browser keeps the cookie session: below its domain example anybody can register a name',
    { session: 'session: { absolute: 8h, idle: 5m, cookie: { path: / } }' },
  ],
  ...['__Http-s', '__Host-Http-s'].map((name): (typeof CASES)[number] => [
    'cookie-never-kept',
    { session: `session: { absolute: 8h, idle: 5m, cookie: { name: ${name}, http-only: false } }` },
    `no browser keeps the cookie ${name}: the start of its name asks for http-only`,
    { session: `session: { absolute: 8h, idle: 5m, cookie: { name: ${name} } }` },
  ]),
];

const FORGOTTEN = (page: string, lands: string) => ({
  ...with_(`/forgotten: { for: ${page} }`),
  more: `password: { reset: { page: /forgotten, submit: POST /forgotten, link: '/forgotten/:token', life: 30m, lands: ${lands} } }`,
});

/** Where the same checks are silent. */
export const SIBLING_QUIET: typeof QUIET = [
  [
    'after-write-refused',
    'whoever changes the password is signed out by it',
    {
      ...with_('/me/password: { for: signed-in }'),
      more: 'password: { change: { page: /me/password, submit: POST /me/password, lands: /safe }, own: ends }',
    },
  ],
  [
    'after-write-refused',
    'whoever is signed in is sent on from the login page',
    FORGOTTEN('everyone', '/in'),
  ],
  [
    'acts-for-more',
    'those for whom others act have pages that are closed to who helps them',
    {
      ...SPLIT,
      more: `${ACTING.replace('of: clerk', 'of: aide')}, life: 1h }`,
      ...with_('/kiosk: { for: [aide] }'),
    },
  ],
];

import type { CASES, QUIET } from './cases';

const PEOPLE =
  'accounts: { ann: { password: a-1, roles: [clerk], facts: { club: oak } }, bo: { password: b-2, roles: [chief], facts: { club: ash } }, cy: { password: c-3 } }';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const OWN = "{ facts: { club: ':club' } }";
const BARRIER = (to: string, rest: string) =>
  `barriers: [{ name: terms, stops: { facts: { club: oak } }, sends: ${to}, ${rest} }]`;
const with_ = (pages: string) => ({ accounts: PEOPLE, pages: `${PAGES}, ${pages} }` });
const part = (audience: string, write: string) =>
  `/berths/:id: { read: signed-in, write: ${write}, parts: { assign: { text: Assign, for: ${audience}, sends: POST /berths/:id } } }`;

/** Tenants, parts and flags. */
export const NEWER_CASES: typeof CASES = [
  [
    'guess-undecided',
    { more: "flags: {} # guess: whether there are any; '#' or not" },
    "this is guessed: whether there are any; '#' or not",
    { more: "flags: {} # guessed once, and decided\nbarriers: [] # a text: '# guess: no'" },
  ],
  [
    'flag-unused',
    { more: 'flags: { sale: off }' },
    'nothing asks how the flag sale stands',
    { more: 'flags: { sale: off }', pages: `${PAGES}, /sale: { for: { flags: { sale: on } } } }` },
  ],
  [
    'barrier-stops-own-way',
    {
      ...with_('/terms: { for: signed-in, sets: { club: none } }'),
      more: BARRIER('/terms', 'lets: [/help], api: 403'),
    },
    'the barrier terms sends people to /terms, and stops what is shown there too',
    {
      ...with_('/terms: { for: signed-in, sets: { club: none } }'),
      more: BARRIER('/terms', 'lets: [/terms], api: 403'),
    },
  ],
  [
    'barrier-forgets-api',
    {
      ...with_(
        '/terms: { for: signed-in, sets: { club: none } }, /a: { for: clerk, loads: [GET /api/a] }, /api/a: { for: clerk, kind: api }',
      ),
      more: BARRIER('/terms', 'lets: [/terms]'),
    },
    'the barrier terms stops people at /a, but not at GET /api/a, which that page loads',
    {
      ...with_(
        '/terms: { for: signed-in, sets: { club: none } }, /a: { for: clerk, loads: [GET /api/a] }, /api/a: { for: clerk, kind: api }',
      ),
      more: BARRIER('/terms', 'lets: [/terms], api: 403'),
    },
  ],
  [
    'redirect-target-missing',
    {
      ...with_('/terms: { for: signed-in, sets: { club: none } }'),
      more: BARRIER('/conditions', 'lets: [/conditions], api: 403'),
    },
    '/conditions is no page: whoever is sent there gets a 404',
    {
      ...with_('/terms: { for: signed-in, sets: { club: none } }'),
      more: BARRIER('/terms', 'lets: [/terms], api: 403'),
    },
  ],
  [
    'sign-up-skips-code',
    {
      pages: `${PAGES}, /up: { for: guests }, /code: { for: guests } }`,
      more: 'sign-up: { page: /up, submit: POST /up, roles: [chief], then: login }\nsecond-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
    },
    'a sign-up lets people in with the role chief, which owes a one-time code, without it',
    {
      pages: `${PAGES}, /up: { for: guests }, /code: { for: guests } }`,
      more: 'sign-up: { page: /up, submit: POST /up, roles: [clerk], then: login }\nsecond-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
    },
  ],
  [
    'idle-never-reached',
    { session: 'session: { idle: 30m, absolute: 8h, by-role: [{ role: chief, absolute: 20m }] }' },
    'no session is ever idle for 30m: each ends after 20m',
    { session: 'session: { idle: 30m, absolute: 8h, by-role: [{ role: chief, idle: 10m, absolute: 20m }] }' },
  ],
  [
    'login-without-end',
    { session: 'session: { idle: 30m, by-role: [{ role: chief, absolute: 20m }] }' },
    'a session with an idle limit and no absolute one never ends while somebody uses it',
    { session: 'session: { idle: 30m, absolute: 1h, by-role: [{ role: chief, absolute: 40m }] }' },
  ],
  [
    'cookie-misses-pages',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { path: /desk } }' },
    'the cookie session is sent below /desk only: at /safe whoever is signed in is a guest',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { path: / } }' },
  ],
  [
    'cookie-domain-wide',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { domain: app.example } }' },
    'the cookie session goes to every host below app.example, and the app has no other than app.example',
    {
      session: 'session: { idle: 30m, absolute: 8h, cookie: { domain: app.example } }',
      more: 'hosts: [office.app.example]',
    },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { domain: else.example } }' },
    'no browser keeps the cookie session: its domain else.example is not that of the app, nor above it',
    { session: 'session: { idle: 30m, absolute: 8h }' },
  ],
  [
    'cookie-never-kept',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { name: __Host-s, path: /desk } }' },
    'no browser keeps the cookie __Host-s: the start of its name asks for path: / and no domain',
    { session: 'session: { idle: 30m, absolute: 8h, cookie: { name: __Host-s } }' },
  ],
  [
    'tenant-forgotten',
    with_(`/clubs/:club: { for: ${OWN} }, /clubs/:id/tools: { for: clerk }`),
    'GET /clubs/:id/tools is open to the account ann whatever :id says, while /clubs/:club asks that it is their own',
    with_(`/clubs/:club: { for: ${OWN} }, /clubs/:id/tools: { for: { any: clerk, facts: { club: ':id' } } }`),
  ],
  [
    'tenant-forgotten',
    with_(
      `/clubs/:club: { for: ${OWN}, loads: [GET /api/of/:club] }, /api/of/:club: { for: signed-in, kind: api }`,
    ),
    'GET /api/of/:club is open to the account ann whatever :club says, while /clubs/:club asks that it is their own',
    with_(
      `/clubs/:club: { for: ${OWN}, loads: [GET /api/of/:club] }, /api/of/:club: { for: ${OWN}, kind: api }`,
    ),
  ],
  [
    'tenant-forgotten',
    {
      ...with_('/clubs/:club: { write: clerk }'),
      rules: `rules: [{ path: /clubs/:club/**, for: ${OWN} }]`,
    },
    'POST /clubs/:club is open to the account ann whatever :club says, while /clubs/:club/** asks that it is their own',
    { ...with_('/clubs/:club: {}'), rules: `rules: [{ path: /clubs/:club/**, for: ${OWN} }]` },
  ],
  [
    'part-request-refused',
    with_(part('clerk', '{ none: clerk }')),
    'the account ann sees the part assign and is refused POST /berths/:id, which it sends',
    with_(part('clerk', 'clerk')),
  ],
  [
    'part-request-refused',
    with_(
      `/clubs/:club: { for: ${OWN}, parts: { pay: { text: Pay, for: signed-in, sends: POST /clubs/:club/pay } } }, /clubs/:club/pay: { for: { any: chief, facts: { club: ':club' } } }`,
    ),
    'the account ann sees the part pay and is refused POST /clubs/:club/pay, which it sends',
    with_(
      `/clubs/:club: { for: ${OWN}, parts: { pay: { text: Pay, for: chief, sends: POST /clubs/:club/pay } } }, /clubs/:club/pay: { for: { any: chief, facts: { club: ':club' } } }`,
    ),
  ],
  [
    'part-hides-open-request',
    with_(part('chief', 'clerk')),
    'the part assign is hidden from the account ann, but POST /berths/:id, which it sends, is open to them',
    with_(part('clerk', 'clerk')),
  ],
  [
    'part-hides-open-request',
    with_(
      `/clubs/:club: { for: ${OWN}, parts: { pay: { text: Pay, for: chief, sends: POST /clubs/:club/pay } } }, /clubs/:club/pay: { for: ${OWN} }`,
    ),
    'the part pay is hidden from the account ann, but POST /clubs/:club/pay, which it sends, is open to them',
    with_(
      `/clubs/:club: { for: ${OWN}, parts: { pay: { text: Pay, for: chief, sends: POST /clubs/:club/pay } } }, /clubs/:club/pay: { for: { any: chief, facts: { club: ':club' } } }`,
    ),
  ],
  [
    'part-hides-open-request',
    {
      ...with_(
        '/berths: { read: signed-in, write: clerk, parts: { sell: { text: Sell, for: { any: clerk, flags: { sale: on } }, sends: POST /berths } } }',
      ),
      more: 'flags: { sale: on }',
    },
    'the part sell is hidden from the account ann while sale is off, but POST /berths, which it sends, is open to them',
    {
      ...with_(
        '/berths: { read: signed-in, write: { any: clerk, flags: { sale: on } }, parts: { sell: { text: Sell, for: { any: clerk, flags: { sale: on } }, sends: POST /berths } } }',
      ),
      more: 'flags: { sale: on }',
    },
  ],
  [
    'data-laxer-than-page',
    {
      ...with_(
        '/beta: { for: { flags: { beta: on } }, loads: [GET /api/beta] }, /api/beta: { for: signed-in, kind: api }',
      ),
      more: 'flags: { beta: on }',
    },
    'GET /api/beta, which /beta loads, is open to the account ann while beta is off, who may not see the page',
    {
      ...with_(
        '/beta: { for: { flags: { beta: on } }, loads: [GET /api/beta] }, /api/beta: { for: { flags: { beta: on } }, kind: api }',
      ),
      more: 'flags: { beta: on }',
    },
  ],
  [
    'data-laxer-than-page',
    with_(
      '/tour: { for: { joined-within: 14d }, loads: [GET /api/tour] }, /api/tour: { for: signed-in, kind: api }',
    ),
    'GET /api/tour, which /tour loads, is open to the account ann, who may not see the page',
    with_(
      '/tour: { for: { joined-within: 14d }, loads: [GET /api/tour] }, /api/tour: { for: { joined-within: 14d }, kind: api }',
    ),
  ],
  [
    'sign-up-landing-refused',
    {
      ...with_('/up: { for: guests }, /tour: { for: { joined-within: 1d, facts: { club: oak } } }'),
      more: 'sign-up: { page: /up, submit: POST /up, then: login, lands: /tour }',
      landing: 'landing: [{ otherwise: /tour }]',
    },
    'a new account lands at /tour and is refused there',
    {
      ...with_('/up: { for: guests }, /tour: { for: { joined-within: 1d } }'),
      more: 'sign-up: { page: /up, submit: POST /up, then: login, lands: /tour }\naccepted: [{ check: landings-differ, because: a tour }]',
    },
  ],
  [
    'redirect-target-missing',
    with_('/a: { for: chief, refusals: { role: /nowhere } }'),
    '/nowhere is no page: whoever is sent there gets a 404',
    with_('/a: { for: chief, refusals: { role: /hall } }'),
  ],
  [
    'kept-for-back-button',
    { ...with_('/a: {}'), rules: 'rules: [{ path: /a, for: clerk, cache: cached }]' },
    'after a logout the back button still shows /a',
    { ...with_('/a: { cache: no-store }'), rules: 'rules: [{ path: /a, for: clerk, cache: cached }]' },
  ],
  [
    'guarded-in-browser-only',
    { ...with_('/a: {}'), rules: 'rules: [{ path: /a, for: clerk, guard: browser }]' },
    '/a is given to anybody, and nothing that it shows is guarded by the app',
    { ...with_('/a: { guard: server }'), rules: 'rules: [{ path: /a, for: clerk, guard: browser }]' },
  ],
];

/** What is careful, and looks like what is not. */
export const NEWER_QUIET: typeof QUIET = [
  [
    'tenant-forgotten',
    'a role that belongs to no tenant looks after all',
    {
      accounts: PEOPLE.replace('roles: [chief], facts: { club: ash }', 'roles: [chief]'),
      pages: `${PAGES}, /clubs/:club: { for: ${OWN} }, /clubs/:club/books: { for: chief } }`,
    },
  ],
  [
    'tenant-forgotten',
    'a page of a tenant is for everyone',
    with_(`/clubs/:club: { for: ${OWN} }, /clubs/:club/shop: { for: everyone }`),
  ],
  [
    'tenant-forgotten',
    'a parameter of that name stands elsewhere, and no page of a tenant asks for it',
    with_(`/clubs/:club: { for: ${OWN} }, /news/:club: { for: signed-in }`),
  ],
  [
    'data-laxer-than-page',
    'a page of a tenant loads what is of whoever asks',
    with_(`/clubs/:club: { for: ${OWN}, loads: [GET /api/me] }, /api/me: { for: signed-in, kind: api }`),
  ],
  [
    'barrier-forgets-api',
    'a page that is let through loads the same',
    {
      ...with_(
        '/terms: { for: signed-in, loads: [GET /api/me] }, /a: { for: clerk, loads: [GET /api/me] }, /api/me: { for: signed-in, kind: api }',
      ),
      more: BARRIER('/terms', 'lets: [/terms, /api/me], api: 403'),
    },
  ],
  [
    'part-hides-open-request',
    'another part of the page sends the same for them',
    with_(
      '/berths: { read: signed-in, write: clerk, parts: { one: { text: One, for: chief, sends: POST /berths }, two: { text: Two, for: clerk, sends: POST /berths } } }',
    ),
  ],
  [
    'part-hides-open-request',
    'anybody may send it',
    with_(
      '/berths: { for: signed-in, parts: { ask: { text: Ask, for: chief, sends: POST /ask } } }, /ask: { for: everyone }',
    ),
  ],
];

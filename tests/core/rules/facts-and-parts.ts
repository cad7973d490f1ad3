import type { SCENARIOS } from './cases';

const PAGES = 'pages: { /: { for: everyone }, /in: { for: guests }, /desk: {}, /safe: {}';
const PEOPLE =
  'accounts: { ann: { password: a-1, roles: [clerk], facts: { club: [oak, elm], terms: accepted } }, bo: { password: b-2, roles: [chief], facts: { club: ash } }, cy: { password: c-3, joined: 3d } }';

/** Facts, tenants, flags, how old an account is, and what pages and rules say of themselves. */
export const FACTS_AND_PARTS: typeof SCENARIOS = {
  'facts and tenants': [
    [
      'a fact has several values, and a condition asks for any of several',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /elms: { for: { facts: { club: elm } } }, /trees: { for: { facts: { club: [ash, elm] } } } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /elms, status: 200 }',
        '{ visit: /trees, status: 200 }',
        '{ logout: }',
        '{ login: bo }',
        '{ visit: /elms, status: 403, why: role }',
        '{ visit: /trees, status: 200 }',
      ],
    ],
    [
      'each tenant sees its own pages',
      { accounts: PEOPLE, pages: `${PAGES}, /clubs/:club/**: { for: { facts: { club: ':club' } } } }` },
      [
        '{ login: ann }',
        '{ visit: /clubs/oak, status: 200 }',
        '{ visit: /clubs/elm/tools, status: 200 }',
        '{ visit: /clubs/ash, status: 403, why: role }',
        '{ send: POST /clubs/ash, status: 403, why: role }',
        '{ visit: /clubs/:club, status: 403, why: role }',
        '{ logout: }',
        '{ login: cy }',
        '{ visit: /clubs/oak, status: 403, why: role }',
      ],
    ],
    [
      'a rule names its tenant by the parameter of its own path, however the page calls it',
      {
        accounts: PEOPLE,
        rules: "rules: [{ path: /clubs/:club/**, for: { facts: { club: ':club' } } }]",
        pages: `${PAGES}, /clubs/:id/tools: {} }`,
      },
      [
        '{ login: ann }',
        '{ visit: /clubs/oak/tools, status: 200 }',
        '{ visit: /clubs/ash/tools, status: 403 }',
      ],
    ],
    [
      'a tenant that is named with escapes is the one that they spell',
      { accounts: PEOPLE, pages: `${PAGES}, /clubs/:club: { for: { facts: { club: ':club' } } } }` },
      ['{ login: ann }', '{ visit: /clubs/%6fak, status: 200 }', '{ visit: /clubs/%6Fak%20, status: 403 }'],
    ],
    [
      'facts are changed by somebody with access to the app, and by what is written to a page',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /terms: { for: signed-in, sets: { terms: accepted, club: } }, /hall: { for: { facts: { terms: accepted } } }, /elms: { for: { facts: { club: elm } } } }`,
      },
      [
        '{ login: ann }',
        '{ set-facts: { as: ann, facts: { terms: pending } } }',
        '{ visit: /hall, status: 403 }',
        '{ visit: /elms, status: 200 }',
        '{ visit: /terms, status: 200 }',
        '{ visit: /hall, status: 403 }',
        '{ send: POST /terms, status: 200 }',
        '{ visit: /hall, status: 200 }',
        '{ visit: /elms, status: 403 }',
        '{ set-facts: { as: ann, facts: { terms: , club: [elm, yew] } } }',
        '{ visit: /hall, status: 403 }',
        '{ visit: /elms, status: 200 }',
      ],
    ],
    [
      'a write that is refused changes nothing, nor does that of a guest',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /terms: { read: signed-in, write: chief, sets: { terms: pending } }, /hall: { for: { facts: { terms: accepted } } }, /open: { for: everyone, sets: { terms: pending } } }`,
      },
      [
        '{ send: POST /open, status: 200 }',
        '{ login: ann }',
        '{ send: POST /terms, status: 403 }',
        '{ visit: /hall, status: 200 }',
      ],
    ],
  ],
  flags: [
    [
      'a page is there for people while a switch of the app stands as it asks',
      {
        more: 'flags: { sale: off, audit: on }',
        pages: `${PAGES}, /sale: { for: { flags: { sale: on } } }, /books: { for: { any: clerk, flags: { audit: off } } } }`,
      },
      [
        '{ visit: /sale, lands: /in?back=%2Fsale, why: guest }',
        '{ login: ann }',
        '{ visit: /sale, status: 403, why: flag }',
        '{ visit: /books, status: 403, why: flag }',
        '{ set-flag: { sale: on, audit: off } }',
        '{ visit: /sale, status: 200 }',
        '{ visit: /books, status: 200 }',
        '{ logout: }',
        '{ login: cy }',
        '{ visit: /books, status: 403, why: role }',
      ],
    ],
  ],
  'accounts that are new': [
    [
      'a page is there for some time after the account was made',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /tour: { for: { joined-within: 14d } }, /up: { for: guests } }`,
        more: 'sign-up: { page: /up, submit: POST /up, then: login, lands: /tour }',
      },
      [
        '{ login: ann }',
        '{ visit: /tour, status: 403, why: joined-long-ago }',
        '{ logout: }',
        '{ login: cy }',
        '{ visit: /tour, status: 200 }',
        '{ sign-up: { as: dee, password: d-4 }, in: other, lands: /tour, status: 200 }',
        '{ wait: 10d23h59m59s }',
        '{ login: cy, lands: / }',
        '{ visit: /tour, status: 200 }',
        '{ wait: 1s }',
        '{ visit: /tour, status: 403, why: joined-long-ago }',
        '{ login: { as: dee, password: d-4 }, in: other }',
        '{ visit: /tour, status: 200, in: other }',
        '{ wait: 3d }',
        '{ login: { as: dee, password: d-4 }, in: other }',
        '{ visit: /tour, status: 403, in: other }',
        '{ delete-account: dee }',
        '{ sign-up: { as: dee, password: d-5 }, in: third, lands: /tour, status: 200 }',
      ],
    ],
  ],
  'what pages and rules say of refusals': [
    [
      'a page goes before a rule, and a rule before the policy, each by what it says',
      {
        rules:
          'rules: [{ path: /staff/**, for: chief, refusals: { guest: 404, role: /desk, unknown: /, api: { role: 404 } } }]',
        pages: `${PAGES}, /staff/plan: {}, /staff/own: { refusals: { role: 404 } }, /staff/data: { kind: api }, /staff/own-data: { kind: api, refusals: { guest: 404 } } }`,
      },
      [
        '{ visit: /staff/plan, status: 404, why: guest }',
        '{ visit: /staff/own, status: 404, why: guest }',
        '{ visit: /, status: 200 }',
        '{ send: GET /staff/data, status: 401, why: guest }',
        '{ send: GET /staff/own-data, status: 404, why: guest }',
        '{ login: ann }',
        '{ visit: /staff/plan, lands: /desk, why: role }',
        '{ visit: /staff/own, status: 404, why: role }',
        '{ send: GET /staff/data, status: 404, why: role }',
        '{ logout: }',
        '{ login: bo }',
        '{ visit: /staff/nothing, lands: /, why: unknown-page }',
      ],
    ],
    [
      'a method that a page does not answer is refused as the page says',
      { pages: `${PAGES}, /list: { for: signed-in, methods: [GET], refusals: { method: 404 } } }` },
      ['{ login: ann }', '{ send: POST /list, status: 404, why: method-not-allowed }'],
    ],
    [
      'a rule says that script guards its pages, and that browsers may keep them',
      {
        login: 'login: { page: /in, submit: POST /in, by: tokens }',
        more: 'tokens: { access: { life: 1h, kept: tab } }',
        rules:
          'rules: [{ path: /app/**, for: chief, guard: browser, refusals: { guest: /in, role: / } }, { path: /api/**, for: chief, kind: api }]',
        pages: `${PAGES}, /app/a: { loads: [GET /api/a] }, /app/b: { refusals: { role: /in }, loads: [GET /api/a] }, /api/a: {} }`,
      },
      [
        '{ visit: /app/a, lands: /in }',
        '{ login: ann }',
        '{ visit: /app/a, lands: /, why: role }',
        '{ logout: }',
        '{ login: bo }',
        '{ visit: /app/a, lands: /app/a }',
        '{ visit: /app/b, lands: /app/b }',
      ],
    ],
    [
      'data that is refused sends people where the page says',
      {
        pages: `${PAGES}, /a: { for: clerk, loads: [GET /api/a], refusals: { role: /desk } }, /api/a: { for: chief, kind: api } }`,
        rules: 'rules: [{ path: /desk, for: clerk }]',
      },
      ['{ login: ann }', '{ visit: /a, lands: /desk }'],
    ],
    [
      'a rule keeps pages for the back button',
      {
        rules: 'rules: [{ path: /kept/**, for: clerk, cache: cached }]',
        pages: `${PAGES}, /kept/a: {}, /kept/b: { cache: no-store } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /kept/a }',
        '{ visit: /kept/b }',
        '{ visit: / }',
        '{ logout: , lands: / }',
        '{ back: , lands: / }',
        '{ back: , lands: /in, why: guest }',
        '{ back: , lands: /kept/a, expect-broken: logout-final }',
      ],
    ],
  ],
  parts: [
    [
      'of a page each reader sees what is for them',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /berths/:id: { for: signed-in, parts: { assign: { text: Assign, for: chief, sends: POST /berths/:id }, note: { text: A note, for: { account: id } }, all: { text: All, for: everyone } } } }`,
        more: 'menu: [{ to: /desk, text: The desk }]',
      },
      [
        '{ login: ann }',
        '{ visit: /berths/9, shows: [all, The desk, /desk], hides: [assign, note] }',
        '{ visit: /berths/ann, shows: [note, all], hides: assign }',
        '{ logout: }',
        '{ login: bo }',
        '{ visit: /berths/9, shows: [assign, all], hides: [note] }',
        '{ visit: /, hides: [assign, all] }',
        '{ visit: /berths/9 }',
        '{ visit: / }',
        '{ back: , shows: [assign, all] }',
      ],
    ],
    [
      'script draws them on a page that it guards, by what it knows of its visitor and the switches',
      {
        login: 'login: { page: /in, submit: POST /in, by: tokens }',
        more: 'tokens: { access: { life: 1h, kept: tab } }\nflags: { sale: off }',
        pages: `${PAGES}, /b: { for: signed-in, guard: browser, parts: { one: { text: One, for: chief }, two: { text: Two, for: clerk }, sold: { text: Sold, for: { flags: { sale: on } } } } } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /b, shows: two, hides: [one, sold] }',
        '{ set-flag: { sale: on } }',
        '{ reload: , shows: [two, sold] }',
        '{ logout: }',
        '{ login: bo }',
        '{ visit: /b, shows: [one, two, sold] }',
        '{ clear-cookies: }',
        '{ visit: /b, in: new, lands: /in, hides: [one, two] }',
      ],
    ],
  ],
};

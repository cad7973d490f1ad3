import type { policyText } from '../../support/policies';

const LOGIN =
  'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 2, within: 5m, pause: 10m }';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const TOKENS = 'tokens: { access: { life: 5m }, refresh: { life: 1h }, failed-refresh: login }';
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m, tries: 2 }';
const FACTOR =
  'accounts: { ann: { password: a-1, roles: [clerk], second-factor: true }, bo: { password: b-2, roles: [chief] } }';

type Parts = Parameters<typeof policyText>[0];

/** What is held, the policy that differs from the small one by some parts, and the steps that show it. */
export const SCENARIOS: Record<string, [holds: string, parts: Parts, steps: string[]][]> = {
  rules: [
    [
      'an expression decides like a path, and only the first rule that matches does',
      {
        rules: "rules: [{ matches: '^/(ship|boat)s$', for: chief }, { path: /**, for: clerk }]",
        pages: `${PAGES}, /ships: {}, /boats/9: {} }`,
      },
      ['{ login: ann }', '{ visit: /ships, status: 403, why: role }', '{ visit: /boats/9, status: 200 }'],
    ],
    [
      'slashes at the end that are kept and redirected go one by one',
      {
        more: 'routing: { trailing-slash: redirected, empty-segments: kept }',
      },
      ['{ login: ann }', '{ visit: /desk///, lands: /desk, status: 200, seen-as: ann }'],
    ],
    [
      'a rule for some methods leaves the others to the next',
      {
        rules: 'rules: [{ path: /a, methods: [DELETE, PUT], for: chief }, { path: /a, for: clerk }]',
        pages: `${PAGES}, /a: {} }`,
      },
      [
        '{ login: ann }',
        '{ visit: /a, status: 200 }',
        '{ send: POST /a, status: 200 }',
        '{ send: DELETE /a, status: 403, why: role }',
      ],
    ],
    [
      'a rule for a host holds there only',
      {
        rules: 'rules: [{ path: /a, host: back.example, for: everyone }, { path: /a, for: chief }]',
        pages: `${PAGES}, /a: {} }`,
      },
      [
        '{ visit: /a, lands: /in, why: guest }',
        '{ visit: "https://back.example/a", status: 200, why: served }',
        '{ visit: "https://front.example/a", why: off-origin }',
      ],
    ],
    [
      'a rule for a network goes by the address of the client',
      {
        rules: 'rules: [{ path: /a, from: [10.0.0.0/8, 2001:db8::/32], for: everyone }]',
        pages: `${PAGES}, /a: {} }`,
        more: 'otherwise: chief',
      },
      [
        '{ visit: /a, why: guest }',
        '{ visit: /a, connects-from: 10.200.3.4, status: 200 }',
        '{ reload: , status: 200 }',
        '{ visit: /a, connects-from: 11.0.0.1, why: guest }',
        '{ visit: /a, connects-from: "2001:db8:ffff::1", status: 200 }',
      ],
    ],
    [
      'a rule for https moves plain http there, and the session works on',
      {
        rules: 'rules: [{ path: /hall, scheme: https, for: signed-in }]',
        pages: `${PAGES.replace('/hall: { for: signed-in }', '/hall: {}')} }`,
      },
      [
        '{ login: ann }',
        '{ visit: "http://app.example/hall?x=1", why: insecure-scheme, lands: /hall?x=1, status: 200, seen-as: ann }',
      ],
    ],
    [
      'a method of a page may have an audience of its own',
      { pages: `${PAGES}, /a: { for: clerk, methods: { DELETE: chief } } }` },
      ['{ login: ann }', '{ send: POST /a, status: 200 }', '{ send: DELETE /a, status: 403 }'],
    ],
  ],
  audiences: [
    [
      'facts are asked for all at once',
      {
        accounts:
          'accounts: { ann: { password: a-1, facts: { deck: 3, side: port } }, bo: { password: b-2, facts: { deck: 3 } } }',
        pages: `${PAGES}, /a: { for: { facts: { deck: "3", side: port } } } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /a, status: 200 }',
        '{ login: bo, in: other }',
        '{ visit: /a, in: other, status: 403, why: role }',
      ],
    ],
    [
      'a recent login is asked for again once it is stale, and leads back',
      {
        pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: everyone }')}, /a: { for: { login-within: 10m } } }`,
      },
      [
        '{ login: ann }',
        '{ wait: 9m59s }',
        '{ visit: /a, status: 200 }',
        '{ wait: 1s }',
        '{ visit: /a, why: stale-login, lands: /in?back=/a }',
        '{ login: ann, lands: /a, status: 200 }',
      ],
    ],
  ],
  landing: [
    [
      'facts land people, and a page sends those on whom it is not for',
      {
        accounts: 'accounts: { ann: { password: a-1, facts: { side: port } }, bo: { password: b-2 } }',
        landing: 'landing: [{ facts: { side: port }, to: /hall }, { otherwise: / }]',
        pages: `${PAGES}, /hello: { for: everyone, forward: landing } }`,
      },
      [
        '{ login: ann, lands: /hall }',
        '{ visit: /hello, lands: /hall, via: [/hello], why: forwarded }',
        '{ visit: /hello, in: other, lands: /, why: forwarded }',
        '{ login: bo, in: other, lands: / }',
      ],
    ],
    [
      'a page that moves only some on stays for the rest',
      {
        pages: `${PAGES}, /hello: { for: everyone, forward: [{ role: chief, to: /safe }, { otherwise: stay }] } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /hello, lands: /hello, why: served }',
        '{ login: bo, in: b }',
        '{ visit: /hello, in: b, lands: /safe, why: forwarded }',
      ],
    ],
    [
      'a logout lands by the page left, and by role',
      {
        logout:
          'logout: { submit: POST /out, lands: [{ at: /desk, to: /?desk }, { role: chief, to: /?chief }, { otherwise: / }] }',
      },
      [
        '{ login: ann, lands: /desk }',
        '{ logout: , lands: /?desk }',
        '{ login: ann }',
        '{ visit: /hall }',
        '{ logout: , lands: /, via: [/out] }',
        '{ login: bo, in: b }',
        '{ logout: , in: b, lands: /?chief }',
      ],
    ],
    [
      'a login picks one of several roles and holds only that',
      {
        login: `${LOGIN}, as-role: true }`,
        accounts: 'accounts: { ann: { password: a-1, roles: [clerk, chief] } }',
        landing: 'landing: [{ role: chief, to: /safe }, { role: clerk, to: /desk }]',
      },
      [
        '{ login: { as: ann, role: clerk }, lands: /desk }',
        '{ visit: /safe, status: 403 }',
        '{ logout: }',
        '{ login: { as: ann, role: chief }, lands: /safe }',
        '{ visit: /desk, status: 200 }',
      ],
    ],
  ],
  'a cookie that says nothing of other sites': [
    [
      'goes along with their forms for two minutes, and again once its value is another',
      { session: 'session: { cookie: { same-site: unset } }' },
      [
        '{ login: ann, lands: /desk }',
        '{ send: POST /desk, from: "https://wreckers.example", seen-as: ann }',
        '{ wait: 1m30s }',
        // Set anew with the same value, as a session that slides is.
        '{ visit: /desk }',
        '{ wait: 30s }',
        '{ send: POST /desk, from: "https://wreckers.example", seen-as: ann }',
        '{ wait: 1s }',
        // Refused, and on by links that are followed: these carry it.
        '{ send: POST /desk, from: "https://wreckers.example", via: [/desk, /in], lands: /desk }',
        '{ visit: /desk, from: "https://wreckers.example", seen-as: ann }',
        '{ logout: }',
        '{ login: ann, lands: /desk }',
        '{ send: POST /desk, from: "https://wreckers.example", seen-as: ann }',
      ],
    ],
  ],
  'the way': [
    [
      'tells of a redirect off the site too',
      { login: 'login: { page: /in, submit: POST /in, return: { accept: anything } }' },
      [
        '{ visit: /in?back=//wreckers.example/x }',
        '{ login: ann, lands: "https://wreckers.example/x", via: [/in], why: off-origin, expect-broken: stays-home }',
      ],
    ],
  ],
  'who copied a cookie': [
    [
      'keeps it past the life that a browser gives it, past its end and past what would clear it',
      { session: 'session: { cookie: { life: 1h } }' },
      [
        '{ login: ann, lands: /desk }',
        '{ copy: { what: session, to: thief } }',
        '{ wait: 1h }',
        '{ visit: /desk, lands: /in, lacks: [session] }',
        '{ close-browser: , in: thief }',
        '{ visit: /desk, in: thief, status: 200, seen-as: ann }',
      ],
    ],
  ],
  'sign-up': [
    [
      'signs in at once and lands like a login',
      {
        pages: `${PAGES}, /join: { for: guests } }`,
        more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk] }',
      },
      [
        '{ sign-up: { as: nell, password: n-1 }, lands: /desk, seen-as: nell, session: live }',
        '{ logout: }',
        '{ login: nell, lands: /desk }',
        '{ visit: /join, lands: /desk, why: guests-only }',
      ],
    ],
    [
      'waits for the link, which is good once and for its life',
      {
        pages: `${PAGES}, /join: { for: guests } }`,
        more: 'sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm, lands: / }\nconfirm: { path: /confirm/:token, life: 1h }',
      },
      [
        '{ sign-up: { as: nell, password: n-1 }, lands: /, seen-as: guest, session: none }',
        '{ login: nell, lands: /in, why: unconfirmed }',
        '{ wait: 59m59s }',
        '{ confirm: nell, lands: /in, why: served }',
        '{ confirm: nell, status: 404, why: unknown-page }',
        '{ login: nell, lands: /desk }',
        '{ sign-up: { as: late, password: l-1 }, in: b }',
        '{ wait: 1h }',
        '{ confirm: late, in: b, lands: /in, why: code-expired }',
      ],
    ],
    [
      'under the name of a deleted account makes another account',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /join: { for: guests }, /of/:owner: { for: { account: owner } }, /api/a: { for: clerk, kind: api }, /api/of/:owner: { for: { account: owner }, kind: api } }`,
        more: `${TOKENS}\nremember: { life: 30d }\nsign-up: { page: /join, submit: POST /join, roles: [clerk] }`,
      },
      [
        '{ login: { as: ann, remember: true }, lands: /desk }',
        '{ send: GET /api/of/ann, status: 200 }',
        '{ delete-account: ann }',
        '{ sign-up: { as: ann, password: n-1 }, in: b, lands: /desk, seen-as: ann }',
        '{ visit: /of/ann, lands: /in, why: account-gone }',
        '{ send: GET /api/of/ann, status: 403, why: not-owner }',
        '{ visit: /of/ann, in: b, status: 200, seen-as: ann }',
      ],
    ],
    [
      'with tokens takes the same way',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /join: { for: guests }, /api/a: { for: clerk, kind: api } }`,
        more: `${TOKENS}\nsign-up: { page: /join, submit: POST /join, roles: [clerk] }`,
      },
      [
        '{ sign-up: { as: nell, password: n-1 }, lands: /desk }',
        '{ send: GET /api/a, status: 200, seen-as: nell }',
      ],
    ],
  ],
  'one-time codes': [
    [
      'complete a login; without one a visitor is no more than a guest',
      { pages: `${PAGES}, /code: { for: guests } }`, accounts: FACTOR, more: CODE },
      [
        '{ visit: /hall, lands: /in?back=/hall }',
        '{ login: ann, lands: /code, why: code-needed, seen-as: guest, session: none }',
        '{ visit: /hall, lands: /code, why: code-needed }',
        '{ code: wrong, lands: /code, why: code-wrong }',
        '{ code: right, lands: /hall, seen-as: ann, session: live }',
        '{ login: bo, in: b, lands: /safe }',
      ],
    ],
    [
      'are gone when too late or too often wrong',
      { pages: `${PAGES}, /code: { for: guests } }`, accounts: FACTOR, more: CODE },
      [
        '{ login: ann }',
        '{ code: late, lands: /in, why: code-expired }',
        '{ login: ann }',
        '{ code: wrong, lands: /code }',
        '{ code: wrong, lands: /in, why: code-wrong }',
        '{ code: right, why: signed-out, lands: /in }',
      ],
    ],
    [
      'are owed no more after a logout',
      { pages: `${PAGES}, /code: { for: everyone } }`, accounts: FACTOR, more: CODE },
      [
        '{ login: ann, lands: /code, why: code-needed }',
        '{ logout: , lands: /, lacks: session }',
        '{ code: right, why: guest, lands: /in }',
      ],
    ],
    [
      'asked at the page lead back to it',
      {
        pages: `${PAGES}, /code: { for: signed-in }, /a: { for: { second-factor: true } } }`,
        accounts: FACTOR,
        more: CODE.replace('tries: 2', 'asked: at-page'),
      },
      [
        '{ login: ann, lands: /desk }',
        '{ visit: /a, lands: /code?back=/a, why: code-needed }',
        '{ code: right, lands: /a, status: 200 }',
        '{ visit: /a, status: 200 }',
      ],
    ],
    [
      'complete a login by script, too',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /code: { for: guests }, /api/a: { for: { second-factor: true }, kind: api } }`,
        accounts: FACTOR,
        more: `${CODE}\n${TOKENS}`,
      },
      [
        '{ login: ann, lands: /code }',
        '{ send: GET /api/a, status: 403, why: code-needed }',
        '{ code: right, lands: /desk }',
        '{ send: GET /api/a, status: 200, seen-as: ann }',
      ],
    ],
  ],
  'attempts, sessions and proxies': [
    [
      'so many wrong passwords and the name pauses, known or not',
      { login: `${LOGIN} }` },
      [
        '{ login: { as: ann, password: x }, why: wrong-password }',
        '{ login: { as: ann, password: x }, why: wrong-password }',
        '{ login: ann, why: locked-out, lands: /in }',
        '{ wait: { short-of: attempts-pause } }',
        '{ login: ann, why: locked-out }',
        '{ wait: { past: attempts-pause } }',
        '{ login: ann, lands: /desk }',
      ],
    ],
    [
      'wrong passwords that lie further apart do not add up',
      { login: `${LOGIN} }` },
      [
        '{ login: { as: ann, password: x } }',
        '{ wait: 5m }',
        '{ login: { as: ann, password: x } }',
        '{ login: ann, lands: /desk }',
      ],
    ],
    [
      'a sealed session is renewed in a new cookie',
      { session: 'session: { kept: sealed, idle: 30m }' },
      [
        '{ login: ann }',
        '{ wait: 29m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 29m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 30m }',
        '{ visit: /desk, why: idle-expired }',
      ],
    ],
    [
      'an app that does not trust its proxy holds secure cookies back',
      { more: 'proxy: { trusted: false }' },
      ['{ login: ann, lands: /in, why: cookie-not-kept, session: none }'],
    ],
    [
      'and one that asks for https goes round in a circle',
      { more: 'proxy: { trusted: false }', rules: 'rules: [{ path: /**, scheme: https, for: everyone }]' },
      ['{ visit: /, why: redirect-loop }'],
    ],
    [
      'a logout ends all that goes back to the same login, in whatever hands',
      { more: 'remember: { life: 14d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ login: ann, in: other }',
        '{ logout: }',
        '{ visit: /desk, in: thief, why: signed-out }',
        '{ visit: /desk, in: other, status: 200 }',
      ],
    ],
    [
      'and one of what is shown leaves the others alone',
      { logout: 'logout: { submit: POST /out, of: shown }', more: 'remember: { life: 14d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ logout: , expect-broken: logout-final }',
        '{ visit: /desk, in: thief, status: 200 }',
      ],
    ],
    [
      'whoever comes back is the latest, and the session before them ends',
      { session: 'session: { idle: 30m, at-once: latest-wins }', more: 'remember: { life: 14d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ visit: /desk, lands: /in, why: signed-out }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ login: ann, in: other }',
        '{ visit: /desk, in: thief, lands: /in }',
      ],
    ],
    [
      'and while somebody is in nobody comes back beside them',
      { session: 'session: { idle: 30m, at-once: first-wins }', more: 'remember: { life: 14d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ visit: /desk, in: thief, lands: /in, why: guest }',
        '{ wait: 30m }',
        '{ visit: /desk, in: thief, status: 200, seen-as: ann }',
      ],
    ],
    [
      'whoever changes their password is remembered by another cookie, and a copy of the one before is worth nothing',
      {
        pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /me: { for: signed-in } }',
        landing: 'landing: [{ otherwise: / }]',
        more: 'remember: { life: 14d }\npassword: { change: { page: /me, submit: POST /me } }',
      },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ change-password: { new: b-2 }, holds: [session, remember] }',
        '{ visit: /me, in: thief, lands: /in }',
        '{ wait: 30m }',
        '{ visit: /me, status: 200, seen-as: ann }',
      ],
    ],
    [
      'a changed password gives the facts of its page',
      {
        accounts: 'accounts: { ann: { password: a-1, roles: [clerk], facts: { secret: old } } }',
        pages:
          'pages: { /: { for: everyone }, /in: { for: guests }, /me: { for: signed-in, sets: { secret: new } }, /desk: { for: { facts: { secret: new } } } }',
        landing: 'landing: [{ otherwise: / }]',
        more: 'password: { change: { page: /me, submit: POST /me } }',
      },
      [
        '{ login: ann }',
        '{ change-password: { old: wrong, new: b-2 }, why: wrong-password }',
        '{ visit: /desk, status: 403 }',
        '{ change-password: { new: b-2 } }',
        '{ visit: /desk, status: 200 }',
      ],
    ],
    [
      'a logout everywhere ends the sessions of other browsers',
      { logout: 'logout: { submit: POST /out, everywhere: true }' },
      [
        '{ login: ann }',
        '{ login: ann, in: b }',
        '{ login: bo, in: c }',
        '{ logout: , in: b }',
        '{ visit: /desk, why: signed-out }',
        '{ visit: /safe, in: c, status: 200 }',
      ],
    ],
  ],
  'menus and pages that load data': [
    [
      'a menu shows each link to those it is for, and can be followed',
      {
        more: 'menu: [{ to: /desk, text: Desk }, { to: /safe, text: Safe }, { to: /hall, text: Hall, for: chief }]',
      },
      [
        '{ login: ann, shows: /desk, hides: [/safe, /hall] }',
        '{ follow: Desk, lands: /desk, status: 200 }',
        '{ logout: , hides: /desk }',
      ],
    ],
    [
      'data is loaded with the token, refreshed once where needed, with the parameters of the page',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /a/:id: { for: clerk, loads: [GET /api/a/:id, GET /api/b] }, /api/a/7: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      ['{ login: ann }', '{ wait: 6m }', '{ visit: /a/7, lands: /a/7, status: 200, refreshes: 1, via: [] }'],
    ],
    [
      'a page whose data cannot be loaded any more sends its visitor to the login, which knows the session still',
      {
        session: 'session: { absolute: 8h }',
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /a: { for: signed-in, loads: [GET /api/a] }, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      [
        '{ login: ann }',
        '{ wait: { past: refresh-expiry } }',
        '{ visit: /a, lands: /desk, why: refresh-expired, via: [/api/a, /in] }',
      ],
    ],
    [
      'script that guards a page goes by the token it holds',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /a: { for: chief, guard: browser, loads: [GET /api/a] }, /api/a: { for: chief, kind: api } }`,
        more: TOKENS,
      },
      [
        '{ visit: /a, lands: /in?back=/a, why: guest, via: [/a] }',
        '{ login: ann, lands: /desk }',
        '{ visit: /a, lands: /a, why: role, seen-as: ann }',
        '{ login: bo, in: b }',
        '{ visit: /a, in: b, lands: /a, status: 200, why: served }',
      ],
    ],
  ],

  'what people do with browsers': [
    [
      'closing the browser drops cookies without a life, closing a tab does not',
      {},
      [
        '{ login: ann, holds: session }',
        '{ new-tab: , session: live }',
        '{ visit: /desk, seen-as: ann }',
        '{ close-tab: , holds: session }',
        '{ close-browser: , lacks: session }',
        '{ open-browser: , session: none }',
        '{ visit: /desk, why: guest }',
      ],
    ],
    [
      'a cookie with a life of its own outlives the browser',
      { session: 'session: { idle: 30m, cookie: { life: 1h } }' },
      [
        '{ login: ann }',
        '{ close-browser: , session: live }',
        '{ open-browser: }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 1h }',
        '{ visit: /desk, why: guest }',
      ],
    ],
    [
      'deleting cookies signs out of nothing but this browser',
      {},
      [
        '{ login: ann }',
        '{ copy: { what: session, to: other } }',
        '{ clear-cookies: session, lacks: session }',
        '{ visit: /desk, why: guest }',
        '{ visit: /desk, in: other, seen-as: ann }',
      ],
    ],
    [
      'a lax cookie comes along with links of other sites and not with their forms; a strict one with neither',
      { more: 'walks: []' },
      [
        '{ login: ann }',
        '{ visit: /desk, from: "https://mail.example", seen-as: ann, status: 200 }',
        '{ send: POST /desk, from: "https://mail.example", why: guest, via: [/desk, /in], lands: /desk }',
        '{ send: POST /desk, seen-as: ann }',
      ],
    ],
    [
      'a strict cookie stays behind for the whole chain of redirects that another site starts',
      {
        session: 'session: { cookie: { same-site: strict } }',
        pages: `${PAGES}, /hello: { for: everyone, forward: [{ otherwise: /desk }] } }`,
      },
      [
        '{ login: ann }',
        '{ visit: /hello, from: "https://mail.example", lands: /in, via: [/hello, /desk] }',
        '{ visit: /hello, lands: /desk, seen-as: ann }',
      ],
    ],
    [
      'back asks again for a page that must not be kept, and shows one that may',
      { pages: `${PAGES}, /open: { for: clerk, cache: cached } }` },
      [
        '{ login: ann, lands: /desk }',
        '{ visit: /open }',
        '{ visit: / }',
        '{ logout: , lands: / }',
        '{ back: , lands: / }',
        '{ back: , lands: /open, session: none }',
        '{ back: , lands: /in, why: guest }',
      ],
    ],
  ],
  'what becomes of accounts and the app': [
    [
      'a suspended account, and one that is gone, is signed out at the next request',
      {},
      [
        '{ login: ann }',
        '{ suspend: ann, session: none }',
        '{ visit: /desk, why: suspended }',
        '{ login: bo, in: b }',
        '{ delete-account: bo }',
        '{ visit: /safe, in: b, why: account-gone }',
      ],
    ],
    [
      'roles are read at each request',
      {},
      [
        '{ login: ann }',
        '{ set-roles: { as: ann, roles: [chief] } }',
        '{ visit: /safe, status: 200 }',
        '{ set-roles: { as: ann, roles: [] } }',
        '{ visit: /desk, status: 403 }',
      ],
    ],
    [
      'or stay those of the login',
      { session: 'session: { roles: at-login }' },
      [
        '{ login: ann }',
        '{ set-roles: { as: ann, roles: [] } }',
        '{ visit: /desk, status: 200 }',
        '{ logout: }',
        '{ login: ann, lands: / }',
      ],
    ],
    [
      'a new password does for the next login only',
      {},
      [
        '{ login: ann }',
        '{ set-password: { as: ann, password: new } }',
        '{ visit: /desk, status: 200 }',
        '{ logout: }',
        '{ login: ann, why: wrong-password }',
        '{ login: { as: ann, password: new }, lands: /desk }',
      ],
    ],
    [
      'a restart loses what is in memory',
      { session: 'session: { kept: memory }' },
      [
        '{ login: ann }',
        '{ restart-app: , holds: session, session: none }',
        '{ visit: /desk, why: session-lost }',
      ],
    ],
    [
      'and nothing of what is in a store',
      {},
      ['{ login: ann }', '{ restart-app: , session: live }', '{ visit: /desk, status: 200 }'],
    ],
    [
      'the latest session wins',
      { session: 'session: { at-once: latest-wins }' },
      [
        '{ login: ann }',
        '{ login: ann, in: b, lands: /desk }',
        '{ visit: /desk, why: signed-out }',
        '{ visit: /desk, in: b, status: 200 }',
      ],
    ],
    [
      'or the first one does, until it is over',
      { session: 'session: { at-once: first-wins, idle: 30m }' },
      [
        '{ login: ann }',
        '{ login: ann, in: b, why: locked-out, lands: /in }',
        '{ visit: /desk, status: 200 }',
        '{ wait: { past: session-idle } }',
        '{ login: ann, in: b, lands: /desk }',
      ],
    ],
  ],
  'being remembered': [
    [
      'a visitor is known again after the browser was closed, with a new session and a new token',
      { more: 'remember: { life: 30d }' },
      [
        '{ login: { as: ann, remember: true }, holds: [session, remember] }',
        '{ close-browser: , lacks: session, holds: remember }',
        '{ visit: /desk, status: 200, seen-as: ann, session: live, holds: [session, remember] }',
        '{ wait: 1d }',
        '{ visit: /desk, status: 200, seen-as: ann }',
        '{ close-browser: }',
        '{ wait: { past: remember-expiry } }',
        '{ visit: /desk, why: guest }',
      ],
    ],
    [
      'a stolen token ends the series once both have used it',
      { more: 'remember: { life: 30d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ close-browser: }',
        '{ visit: /desk, why: guest, lands: /in }',
        '{ close-browser: , in: thief }',
        '{ visit: /desk, in: thief, why: guest }',
      ],
    ],
    [
      'a logout forgets, also where the session was over already',
      { more: 'remember: { life: 30d }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ close-browser: }',
        '{ logout: , lands: /, lacks: [session, remember] }',
        '{ visit: /desk, why: guest }',
        '{ visit: /desk, in: thief, why: guest }',
      ],
    ],
  ],
  'tokens in browsers': [
    [
      'in the tab are not there in another; in the browser they are, also after it was closed',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      [
        '{ login: ann, holds: [access, refresh] }',
        '{ new-tab: , lacks: [access, refresh] }',
        '{ close-tab: , holds: access }',
        '{ close-browser: , lacks: [access, refresh] }',
      ],
    ],
    [
      'in the browser they are, also after it was closed',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', 'life: 5m, kept: browser'),
      },
      [
        '{ login: ann }',
        '{ new-tab: , holds: access }',
        '{ send: GET /api/a, status: 200 }',
        '{ close-browser: , holds: [access, refresh] }',
        '{ open-browser: }',
        '{ send: GET /api/a, status: 200 }',
      ],
    ],
    [
      'in the tab a tab that script opens has a copy, and a browser that restores its session has them again',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      [
        '{ login: ann }',
        '{ duplicate-tab: , holds: [access, refresh] }',
        '{ send: GET /api/a, status: 200 }',
        '{ restore-browser: , holds: [access, refresh] }',
        '{ close-tab: , holds: [access, refresh] }',
        '{ close-tab: , lacks: [access, refresh] }',
      ],
    ],
    ...[true, 'in-tab'].map((shared): [string, object, string[]] => [
      `a tab that was opened with a copy is ${shared === true ? '' : 'not '}told of a refresh: ${shared}`,
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace(/ }$/, `, shared-refresh: ${shared} }`),
      },
      [
        '{ login: ann }',
        '{ duplicate-tab: }',
        '{ wait: 5m }',
        '{ send: GET /api/a, status: 200, refreshes: 1 }',
        '{ close-tab: }',
        shared === true
          ? '{ send: GET /api/a, status: 200, refreshes: 0 }'
          : '{ send: GET /api/a, why: refresh-reused, lands: /in }',
      ],
    ]),
    [
      'in the memory of the page a tab that script opens has none, nor a browser that restores its session',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', 'life: 5m, kept: page'),
      },
      [
        '{ login: ann, holds: access }',
        '{ duplicate-tab: , lacks: [access, refresh] }',
        '{ close-tab: , holds: access }',
        '{ restore-browser: , lacks: [access, refresh] }',
      ],
    ],
    [
      'in the memory of the page they are gone with it',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', 'life: 5m, kept: page'),
      },
      [
        '{ login: ann, holds: access }',
        '{ send: GET /api/a, status: 200 }',
        '{ reload: , lacks: [access, refresh] }',
        '{ send: GET /api/a, status: 401 }',
      ],
    ],
    [
      'last no longer than the longest, however often they rotate',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 1h', 'life: 10m, longest: 15m'),
      },
      [
        '{ login: ann }',
        '{ wait: 9m }',
        '{ send: GET /api/a, status: 200, refreshes: 1 }',
        '{ wait: 6m }',
        '{ send: GET /api/a, why: refresh-expired, lands: /in }',
      ],
    ],
    ...['keeps', 'renews'].flatMap((own) =>
      ['page', 'tab', 'browser', 'cookie'].map((kept): [string, Parts, string[]] => [
        `beside a session whoever changes the password goes on: own ${own}, kept in the ${kept}`,
        {
          login: `${LOGIN}, by: both }`,
          pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /me: { for: signed-in } }`,
          more: `${TOKENS.replaceAll('life: ', `kept: ${kept}, life: `)}\npassword: { change: { page: /me, submit: POST /me, lands: /hall }, own: ${own} }`,
        },
        [
          '{ login: ann }',
          '{ change-password: { new: a-2 }, lands: /hall, seen-as: ann' +
            (own === 'keeps' ? ', expect-broken: password-final }' : ' }'),
          '{ send: GET /api/a, status: 200, seen-as: ann }',
          '{ visit: /desk, status: 200, seen-as: ann }',
        ],
      ]),
    ),
    [
      'a refresh that is sent on is one',
      {
        login: `${LOGIN}, by: tokens }`,
        rules: 'rules: [{ path: /oauth/**, for: clerk }]',
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      ['{ login: ann }', '{ wait: 6m }', '{ send: GET /api/a, why: guest, lands: /in, refreshes: 1 }'],
    ],
    [
      'strict, they go along from a page of the same site, and not from another scheme or another name',
      { session: 'session: { absolute: 8h, cookie: { same-site: strict } }' },
      [
        '{ login: ann }',
        "{ visit: /desk, from: 'https://help.app.example', status: 200, seen-as: ann }",
        "{ visit: /desk, from: 'http://app.example', why: guest }",
        "{ visit: /desk, from: 'https://other.example', why: guest }",
      ],
    ],
    [
      'an app that looks at the Origin header refuses a page of its own site too',
      {
        session: 'session: { absolute: 8h, cookie: { same-site: strict } }',
        more: 'csrf: { origin: checked }',
      },
      [
        '{ login: ann }',
        "{ send: POST /desk, from: 'https://help.app.example', status: 403, why: csrf-refused }",
      ],
    ],
    [
      'the reload button repeats that another site has asked, and a typed address does not',
      { session: 'session: { absolute: 8h, cookie: { same-site: strict } }' },
      [
        '{ login: ann }',
        "{ visit: /, from: 'https://other.example', seen-as: guest }",
        '{ reload: , seen-as: guest }',
        '{ visit: /, seen-as: ann }',
        '{ reload: , seen-as: ann }',
      ],
    ],
    [
      'a browser that restores its session has the cookies that closing ends, and no page that a form had brought',
      {},
      [
        '{ login: ann }',
        '{ restore-browser: , seen-as: ann, session: live }',
        '{ send: POST /desk }',
        '{ new-tab: }',
        '{ restore-browser: , session: live }',
        '{ close-tab: , session: live }',
        '{ close-browser: , session: none }',
      ],
    ],
    [
      'a form of another site that is sent again by the reload button goes without a lax cookie again',
      {
        pages: `${PAGES}, /note: { for: everyone } }`,
      },
      [
        '{ login: ann }',
        "{ send: POST /note, from: 'https://other.example', seen-as: guest }",
        '{ reload: , seen-as: guest }',
      ],
    ],
    [
      'in cookies script never sees them: they go along by themselves, and a refresh changes them',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', 'life: 5m, kept: cookie'),
      },
      [
        '{ login: ann, lands: /desk, seen-as: ann, holds: [access, refresh] }',
        '{ send: GET /api/a, status: 200, seen-as: ann, refreshes: 0 }',
        '{ wait: 5m, lacks: access, holds: refresh }',
        '{ send: GET /api/a, status: 200, refreshes: 1, holds: [access, refresh] }',
        '{ new-tab: , holds: [access, refresh] }',
        '{ visit: /desk, status: 200, seen-as: ann }',
        '{ visit: /desk, from: "https://mail.example", why: guest }',
        '{ logout: , lands: /, lacks: [access, refresh] }',
      ],
    ],
    [
      'in cookies a refresh that fails drops them',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', 'life: 5m, kept: cookie'),
      },
      [
        '{ login: ann }',
        '{ suspend: ann }',
        '{ wait: 5m }',
        '{ send: GET /api/a, why: suspended, lands: /in, lacks: [access, refresh] }',
      ],
    ],
    [
      'a refresh token that was stolen and used twice ends the family',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS,
      },
      [
        '{ login: ann }',
        '{ copy: { what: refresh, to: thief } }',
        '{ copy: { what: access, to: thief } }',
        '{ wait: 5m }',
        '{ send: GET /api/a, in: thief, status: 200, refreshes: 1 }',
        '{ send: GET /api/a, why: refresh-reused, lands: /in, lacks: [access, refresh] }',
        '{ wait: 5m }',
        '{ send: GET /api/a, in: thief, why: refresh-revoked }',
      ],
    ],
  ],
  'calls at the same time': [
    [
      'share one refresh, in whatever order they arrive',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api }, /api/c: { for: clerk, kind: api } }`,
        more: TOKENS.replace('failed-refresh', 'shared-refresh: true, failed-refresh'),
      },
      [
        '{ login: ann }',
        '{ wait: 5m }',
        '{ together: [GET /api/a, GET /api/b, GET /api/c], status: 200, why: served, refreshes: 1, holds: refresh }',
        '{ send: GET /api/a, status: 200, refreshes: 0 }',
      ],
    ],
    ...(
      [
        // Two and three calls of one tab, every order: a 401 that comes after the refresh starts another, unless tokens are compared.
        ['until-settled', 2, 2],
        ['until-settled', 3, 3],
        ['in-tab', 3, 1],
        ['true', 3, 1],
      ] as const
    ).map(([shared, calls, refreshes]): [string, Parts, string[]] => [
      `${calls} of one tab, shared-refresh: ${shared}`,
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: TOKENS.replace('failed-refresh', `shared-refresh: ${shared}, failed-refresh`),
      },
      [
        '{ login: ann }',
        '{ wait: 5m }',
        `{ together: [${Array(calls).fill('GET /api/a').join(', ')}], status: 200, why: served, refreshes: ${refreshes}, holds: refresh }`,
        '{ send: GET /api/a, status: 200, refreshes: 0 }',
      ],
    ]),
    [
      'or race, and the honest visitor is taken for a thief',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
        more: TOKENS.replace('failed-refresh', 'shared-refresh: false, failed-refresh'),
      },
      [
        '{ login: ann }',
        '{ wait: 5m }',
        '{ together: [GET /api/a, GET /api/b], why: refresh-reused, lands: /in, lacks: refresh, refreshes: 2 }',
      ],
    ],
    [
      'which a short grace forgives',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 1h', 'life: 1h, grace: 5s').replace(
          'failed-refresh',
          'shared-refresh: false, failed-refresh',
        ),
      },
      [
        '{ login: ann }',
        '{ wait: 5m }',
        '{ together: [GET /api/a, GET /api/b], why: served, status: 200, holds: refresh, refreshes: 2 }',
      ],
    ],
    ...(
      [
        ['share it across tabs', 'browser', 'true', 'status: 200, why: served, refreshes: 1, holds: refresh'],
        ['race it across tabs', 'browser', 'in-tab', 'why: refresh-reused, refreshes: 2, lacks: refresh'],
        ['race it across tabs', 'cookie', 'false', 'why: refresh-reused, refreshes: 2, lacks: refresh'],
        [
          'have nothing to do with each other',
          'tab',
          'true',
          'status: 200, why: served, refreshes: 2, holds: refresh',
        ],
      ] as const
    ).map(([how, kept, shared, seen]): [string, Parts, string[]] => [
      `${how}: tokens kept by ${kept}, shared-refresh: ${shared}`,
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
        more: TOKENS.replace('life: 5m', `life: 5m, kept: ${kept}`).replace(
          'failed-refresh',
          `shared-refresh: ${shared}, failed-refresh`,
        ),
      },
      [
        '{ login: ann }',
        '{ new-tab: }',
        ...(kept === 'tab' ? ['{ login: ann }'] : []),
        '{ wait: 5m }',
        `{ together: [GET /api/a, { send: GET /api/b, tab: behind }], ${seen} }`,
      ],
    ]),
    [
      'refresh ahead of expiry together, too',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
        more: TOKENS.replace('failed-refresh', 'refresh-when: 1m, failed-refresh'),
      },
      [
        '{ login: ann }',
        '{ wait: 4m }',
        '{ together: [GET /api/a, GET /api/b], why: served, status: 200, refreshes: 1 }',
      ],
    ],
  ],
  'what a browser reaches': [
    [
      'is told by page',
      {},
      ['{ visit: /, reaches: [/, /in] }', '{ login: ann, reaches: [/, /desk, /hall] }'],
    ],
  ],
};

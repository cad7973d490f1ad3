import type { SCENARIOS } from './cases';

const LOGIN = 'login: { page: /in, submit: POST /in, return: {}';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';

/** What browsers and apps made in the ordinary way do besides. */
export const ORDINARY: typeof SCENARIOS = {
  'the back button': [
    [
      'brings a page back that must not be stored, until a cookie changes',
      {},
      [
        '{ login: ann, lands: /desk }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ back: , lands: /desk }',
        '{ reload: , lands: /in, why: suspended }',
      ],
    ],
    [
      'asks for it again once a cookie has changed',
      { session: 'session: { cookie: { life: 8h } }' },
      [
        '{ login: ann }',
        '{ wait: 1s }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ back: , lands: /in, why: suspended }',
      ],
    ],
    [
      'and after three minutes',
      {},
      [
        '{ login: ann }',
        '{ visit: / }',
        '{ suspend: ann }',
        '{ wait: 2m59s }',
        '{ back: , lands: /desk }',
        '{ visit: / }',
        '{ wait: 3m }',
        '{ back: , lands: /in }',
      ],
    ],
    [
      'goes as many pages back as it is told',
      {},
      [
        '{ login: ann }',
        '{ visit: /hall }',
        '{ visit: / }',
        '{ back: 2, lands: /desk }',
        '{ visit: / }',
        '{ back: 2, lands: /in }',
      ],
    ],
    [
      'makes script judge again within what it guards, and not beyond',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /a: { for: clerk, guard: browser }, /b: { for: clerk, guard: browser } }`,
        landing: 'landing: [{ otherwise: /a }]',
        more: 'tokens: { access: { life: 5m, kept: browser } }\nmenu: [{ to: /b, text: B }]',
      },
      [
        '{ login: ann, lands: /a }',
        '{ follow: B, lands: /b }',
        '{ wait: 1m }',
        '{ back: , lands: /a }',
        '{ follow: B }',
        '{ visit: / }',
        '{ new-tab: }',
        '{ visit: /a }',
        '{ logout: }',
        '{ close-tab: }',
        '{ back: , lands: /b }',
        '{ back: , lands: /in, why: guest }',
      ],
    ],
  ],
  'sessions of guests': [
    [
      'start with a form',
      { session: 'session: { starts: with-a-form, idle: 30m, absolute: 8h }' },
      [
        '{ visit: /, lacks: session }',
        '{ visit: /desk, lands: /in, holds: session, session: none, why: guest }',
        '{ wait: 30m }',
        '{ visit: /desk, lands: /in, why: guest }',
        '{ login: ann, lands: /desk, session: live }',
        '{ logout: , lacks: session }',
      ],
    ],
    [
      'or a page that says itself who may write to it',
      {
        session: 'session: { starts: with-a-form }',
        pages: `${PAGES}, /note: { read: everyone, write: everyone }, /word: { read: everyone, write: guests } }`,
      },
      ['{ visit: /note, holds: session }', '{ clear-cookies: }', '{ visit: /word, holds: session }'],
    ],
    [
      'or at the first visit, and end at the login, which gives a new one',
      { session: 'session: { starts: at-first-visit }' },
      [
        '{ visit: /nowhere, status: 404, holds: session }',
        '{ copy: { what: session, to: thief } }',
        '{ login: ann, session: live }',
        '{ visit: /desk, in: thief, lands: /in }',
      ],
    ],
    [
      'or go on after it, and whoever has the id of the guest is signed in',
      { session: 'session: { starts: at-first-visit }', login: `${LOGIN}, renew-session-id: false }` },
      [
        '{ visit: /, in: thief }',
        '{ plant: { what: session, in: browser }, in: thief }',
        '{ login: ann, session: live, expect-broken: new-id }',
        '{ visit: /desk, in: thief, seen-as: ann, status: 200, session: live }',
      ],
    ],
    [
      'what is planted is dropped like any other cookie, what is copied is not',
      { session: 'session: { starts: at-first-visit, cookie: { life: 1h } }' },
      [
        '{ visit: /, in: other }',
        '{ plant: { what: session, in: browser }, in: other }',
        '{ copy: { what: session, to: thief }, in: other }',
        '{ visit: /, in: thief, holds: session }',
        '{ wait: 2h, lacks: session }',
        '{ wait: 0s, in: thief, holds: session }',
      ],
    ],
    [
      'are started in the place of that of a visitor, by a form of another site that leaves it behind',
      { session: 'session: { starts: at-first-visit }' },
      [
        '{ login: ann }',
        '{ send: POST /desk, from: "https://wreckers.example", session: none, holds: session, expect-broken: own-request }',
        '{ visit: /desk, lands: /in, why: guest }',
      ],
    ],
    [
      'keep what was asked for, however one wanders',
      { login: `${LOGIN.replace('return: {}', 'return: { kept: session }')} }` },
      [
        '{ visit: "/hall?x=1", lands: /in, via: ["/hall?x=1"], holds: session }',
        '{ visit: / }',
        '{ login: ann, lands: "/hall?x=1" }',
        '{ logout: }',
        '{ login: ann, lands: /desk }',
      ],
    ],
    [
      'and lose it with themselves, or where a login does not carry it over',
      { login: `${LOGIN.replace('return: {}', 'return: { kept: session, carried-over: false }')} }` },
      [
        '{ visit: /hall, lands: /in }',
        '{ login: ann, lands: /desk, expect-broken: return-kept }',
        '{ logout: }',
        '{ visit: /hall, lands: /in }',
        '{ wait: 30m }',
        '{ login: ann, lands: /desk }',
      ],
    ],
  ],
  'where forms come from': [
    [
      'a form carries the token of the session in which it was shown: past its end it is refused, before the guard',
      { more: 'csrf: { token: per-session, refused: 419 }' },
      [
        '{ login: ann }',
        '{ send: POST /desk, status: 200 }',
        '{ wait: { past: session-idle } }',
        '{ send: POST /desk, status: 419, why: csrf-refused }',
        '{ visit: /desk, lands: /in, why: idle-expired }',
        '{ login: ann, lands: /desk }',
      ],
    ],
    [
      'or after it',
      { more: 'csrf: { token: per-session, after: guard }' },
      [
        '{ login: ann }',
        '{ wait: { past: session-idle } }',
        '{ send: POST /desk, lands: /in, why: idle-expired }',
      ],
    ],
    [
      'sent from another tab after the logout it is refused, as is one of an earlier session',
      { more: 'csrf: { token: per-session }' },
      [
        '{ visit: /in }',
        '{ new-tab: }',
        '{ login: ann }',
        '{ logout: }',
        '{ login: ann }',
        '{ close-tab: }',
        '{ login: ann, status: 403, why: csrf-refused }',
        '{ send: POST /desk, why: csrf-refused }',
        '{ visit: /desk, status: 200 }',
        '{ send: POST /desk, why: served }',
      ],
    ],
    [
      'one that is good once is the last that was shown',
      { more: 'csrf: { token: per-request }' },
      [
        '{ login: ann }',
        '{ send: POST /desk, status: 200 }',
        '{ send: POST /desk, status: 200 }',
        '{ new-tab: }',
        '{ visit: /desk }',
        '{ close-tab: }',
        '{ send: POST /desk, why: csrf-refused }',
      ],
    ],
    [
      'no form of another site is taken, whatever cookies come along',
      {
        session: 'session: { cookie: { same-site: none } }',
        more: 'csrf: { token: per-session }',
      },
      [
        '{ login: bo, from: "https://wreckers.example", why: csrf-refused, session: none }',
        '{ login: ann }',
        '{ send: POST /desk, from: "https://wreckers.example", status: 403, why: csrf-refused }',
        '{ send: POST /out, from: "https://wreckers.example", why: csrf-refused, session: live }',
        '{ login: bo, from: "https://wreckers.example", why: csrf-refused, seen-as: ann }',
      ],
    ],
    [
      'nor where the app looks at where it comes from',
      { session: 'session: { cookie: { same-site: none } }', more: 'csrf: { origin: checked }' },
      [
        '{ login: ann }',
        '{ send: POST /desk, status: 200 }',
        '{ send: POST /desk, from: "https://wreckers.example", why: csrf-refused }',
        '{ visit: /desk, from: "https://wreckers.example", status: 200 }',
      ],
    ],
    [
      'without either it is, for as long as cookies go along',
      { session: 'session: { cookie: { same-site: unset } }', more: 'csrf: { origin: ignored }' },
      [
        '{ login: ann }',
        '{ send: POST /desk, from: "https://wreckers.example", seen-as: ann, expect-broken: own-request }',
        '{ wait: 2m }',
        '{ send: POST /desk, from: "https://wreckers.example", seen-as: ann, expect-broken: own-request }',
        '{ wait: 1s }',
        '{ send: POST /desk, from: "https://wreckers.example", why: guest }',
        '{ login: bo, from: "https://wreckers.example", seen-as: bo, expect-broken: own-request }',
      ],
    ],
    [
      'calls by script carry it too, and what is shown by a token of its own needs none',
      {
        login: `${LOGIN}, by: both }`,
        pages: `${PAGES}, /api/a: { for: signed-in, kind: api } }`,
        more: 'csrf: { token: per-session }\ntokens: { access: { life: 5m }, refresh: { life: 1h } }',
      },
      [
        '{ login: ann }',
        '{ send: POST /api/a, status: 200 }',
        '{ wait: 5m }',
        '{ send: POST /api/a, status: 200, refreshes: 1 }',
      ],
    ],
  ],
  'what a refused form, a write and a method are answered with': [
    [
      'a refused login shows its form again, at the address of the endpoint, with what was asked for',
      {
        login:
          'login: { page: /in, submit: POST /sign-in, wrong: { shown: true, status: 401 }, return: {}, attempts: { most: 3, within: 5m, pause: 5m } }',
      },
      [
        '{ visit: /hall, lands: "/in?back=/hall" }',
        '{ login: { as: ann, password: no }, lands: /sign-in, status: 401, why: wrong-password, via: [] }',
        '{ reload: , lands: /sign-in, status: 401, why: wrong-password }',
        '{ login: ann, lands: /hall, via: [/sign-in] }',
      ],
    ],
    [
      'as does one with a code, and one whose name is taken',
      {
        accounts:
          'accounts: { ann: { password: a-1, roles: [clerk], second-factor: true }, bo: { password: b-2, roles: [chief] } }',
        pages: `${PAGES}, /code: { for: everyone }, /join: { for: guests } }`,
        more: 'second-factor: { page: /code, submit: POST /check, life: 5m, tries: 2, wrong: { shown: true } }\nsign-up: { page: /join, submit: POST /joined, then: login, wrong: { shown: true, status: 422 } }',
      },
      [
        '{ send: POST /joined, lands: /joined, status: 422 }',
        '{ sign-up: { as: dee, password: d }, lands: / }',
        '{ logout: }',
        '{ login: ann, lands: /code }',
        '{ code: wrong, lands: /check, status: 200, why: code-wrong }',
        '{ code: right, lands: /desk }',
      ],
    ],
    [
      'a write is followed by a redirect, so that a reload reads',
      {
        pages: `${PAGES}, /loans/:id: { for: signed-in, after-write: /loans/:id/done }, /loans/:id/done: { for: signed-in } }`,
      },
      [
        '{ login: ann }',
        '{ send: POST /loans/7, lands: /loans/7/done, via: [/loans/7], why: served }',
        '{ reload: , lands: /loans/7/done, via: [] }',
        '{ send: POST /desk, lands: /desk, via: [] }',
      ],
    ],
    [
      'or by a status, for script',
      {
        pages: `${PAGES}, /api/a: { for: signed-in, kind: api, write-status: 201 }, /api/b: { for: signed-in, kind: api, write-status: 204 } }`,
      },
      [
        '{ login: ann }',
        '{ send: POST /api/a, status: 201, lands: /desk }',
        '{ send: DELETE /api/b, status: 204, lands: /desk }',
        '{ send: GET /api/b, status: 200 }',
      ],
    ],
    [
      'a method that a page does not answer is refused, as routers do before they ask who it is',
      {
        pages: `${PAGES}, /list: { for: signed-in, methods: [GET] }, /box: { for: signed-in, methods: [POST, PUT] } }`,
      },
      [
        '{ send: POST /list, status: 405, why: method-not-allowed }',
        '{ login: ann }',
        '{ send: POST /list, status: 405, why: method-not-allowed }',
        '{ send: HEAD /list, status: 200 }',
        '{ send: PUT /box, status: 200 }',
        '{ visit: /box, status: 405, why: method-not-allowed }',
        '{ send: OPTIONS /box, status: 204 }',
      ],
    ],
    [
      'or looks as if it did not exist',
      { pages: `${PAGES}, /list: { for: signed-in, methods: [GET] } }`, more: 'refusals: { method: 404 }' },
      ['{ login: ann }', '{ send: POST /list, status: 404, why: method-not-allowed }'],
    ],
    [
      'unknown addresses are answered with the shell of a single page',
      { more: 'refusals: { unknown: shell, api: { unknown: 404 } }' },
      ['{ visit: /nowhere, lands: /nowhere, status: 200, why: unknown-page }'],
    ],
    [
      'a login, a code and a logout by the api are answered by a status, and script goes on',
      {
        login:
          'login: { page: /in, submit: POST /api/login, wrong: { status: 401 }, return: {}, attempts: { most: 3, within: 5m, pause: 5m } }',
        rules: 'rules: [{ path: /api/**, for: everyone, kind: api }]',
        logout: 'logout: { submit: POST /api/logout, lands: /in, status: 204 }',
      },
      [
        '{ visit: /hall, lands: "/in?back=/hall" }',
        '{ login: { as: ann, password: no }, lands: "/in?back=/hall", status: 401, why: wrong-password }',
        '{ login: ann, lands: /hall, session: live }',
        '{ logout: , lands: /in, session: none }',
      ],
    ],
    [
      'a refused refresh has a status of its own',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
        more: 'tokens: { access: { life: 5m }, refresh: { life: 1h, rotates: false }, refused: 401 }',
      },
      ['{ login: ann }', '{ wait: 1h }', '{ send: GET /api/a, lands: /in, why: refresh-expired }'],
    ],
  ],
  'cookies of ordinary apps': [
    [
      'the record slides and the cookie does not: the visitor loses it, whoever copied it does not',
      { session: 'session: { idle: 30m, cookie: { life: 1h, renewed: false } }' },
      [
        '{ login: ann }',
        '{ copy: { what: session, to: thief } }',
        '{ wait: 20m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 20m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 20m }',
        '{ visit: /desk, lands: /in, why: guest, lacks: session }',
        '{ visit: /desk, in: thief, status: 200, seen-as: ann }',
      ],
    ],
    [
      'a cookie and its signature are one',
      { session: 'session: { cookie: { name: [app.sess, app.sess.sig] } }' },
      [
        '{ login: ann, holds: session }',
        '{ copy: { what: session, to: thief } }',
        '{ visit: /desk, in: thief, seen-as: ann }',
        '{ clear-cookies: app.sess.sig, lacks: session }',
        '{ visit: /desk, lands: /in, why: guest }',
        '{ login: ann }',
        '{ logout: , lacks: session }',
      ],
    ],
    [
      'a remember cookie without a series is refused where it comes again, and ends nothing',
      { more: 'remember: { life: 30d, reuse: refuse }' },
      [
        '{ login: { as: ann, remember: true } }',
        '{ copy: { what: remember, to: thief } }',
        '{ wait: { past: session-idle } }',
        '{ visit: /desk, seen-as: ann }',
        '{ visit: /desk, in: thief, lands: /in }',
        '{ wait: { past: session-idle } }',
        '{ visit: /desk, seen-as: ann, status: 200 }',
      ],
    ],
  ],
  'addresses to come back to': [
    [
      'one slash keeps out what two lead off to, and not a backslash',
      { login: `${LOGIN.replace('return: {}', 'return: { accept: one-slash }')} }` },
      [
        '{ visit: "/in?back=//wreckers.example" }',
        '{ login: ann, lands: /desk, why: unsafe-return }',
        '{ logout: }',
        "{ visit: '/in?back=/\\wreckers.example' }",
        '{ login: ann, why: off-origin, expect-broken: stays-home }',
      ],
    ],
    [
      'what was sent is taken up again where everything is',
      {
        login: `${LOGIN.replace('return: {}', 'return: { of: everything, only-if-allowed: false }')} }`,
        pages: `${PAGES}, /box: { for: signed-in, methods: [POST] } }`,
      },
      ['{ send: POST /box, lands: "/in?back=/box" }', '{ login: ann, status: 405, why: method-not-allowed }'],
    ],
  ],
};

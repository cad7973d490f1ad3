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

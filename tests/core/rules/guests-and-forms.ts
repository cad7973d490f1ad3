import type { SCENARIOS } from './cases';

const LOGIN = 'login: { page: /in, submit: POST /in, return: {}';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';

/** Sessions that guests have, and what tells an app's own forms from others. */
export const GUESTS_AND_FORMS: typeof SCENARIOS = {
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
      'a form of another site takes no token cookies away, since it comes without them',
      {
        login: `${LOGIN}, by: tokens }`,
        pages: `${PAGES}, /api/a: { for: signed-in, kind: api } }`,
        more: 'tokens: { access: { life: 5m, kept: cookie }, refresh: { life: 1h }, roles: each-request }',
      },
      [
        '{ login: ann, holds: [access, refresh] }',
        '{ send: POST /out, from: "https://wreckers.example", holds: [access, refresh] }',
        '{ send: POST /oauth/token, from: "https://wreckers.example", holds: [access, refresh] }',
        '{ visit: /desk, seen-as: ann }',
        '{ logout: , lacks: [access, refresh] }',
      ],
    ],
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
};

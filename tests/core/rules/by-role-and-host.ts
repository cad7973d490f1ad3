import type { SCENARIOS } from './cases';

const PAGES = 'pages: { /: { for: everyone }, /in: { for: guests }, /desk: {}, /safe: {}';

/** Codes and limits that go by role, paths and domains of cookies, further hosts. */
export const BY_ROLE_AND_HOST: typeof SCENARIOS = {
  'codes that roles owe': [
    [
      'whoever holds the role gives the code, however they came to it',
      {
        pages: `${PAGES}, /code: { for: guests }, /hall: { for: signed-in } }`,
        more: 'second-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
      },
      [
        '{ login: ann, lands: /desk }',
        '{ logout: }',
        '{ login: bo, lands: /code, why: code-needed }',
        '{ code: right, lands: /safe, seen-as: bo }',
        '{ set-roles: { as: ann, roles: [chief] } }',
        '{ login: ann, in: other, lands: /code, why: code-needed }',
        '{ code: right, in: other, lands: /safe, seen-as: ann }',
        '{ set-roles: { as: bo, roles: [clerk] } }',
        '{ logout: }',
        '{ login: bo, lands: /desk }',
      ],
    ],
    [
      'who is given the role while signed in gives it at the next login',
      {
        pages: `${PAGES}, /code: { for: guests } }`,
        more: 'second-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
      },
      [
        '{ login: ann }',
        '{ set-roles: { as: ann, roles: [chief] } }',
        '{ visit: /safe, status: 200 }',
        '{ logout: }',
        '{ login: ann, lands: /code }',
      ],
    ],
  ],
  'limits by role': [
    [
      'the first role held decides, and what it leaves out is as for all',
      {
        session:
          'session: { idle: 30m, absolute: 8h, by-role: [{ role: chief, idle: 5m }, { role: clerk, absolute: 1h }] }',
      },
      [
        '{ login: bo, in: b }',
        '{ wait: { short-of: session-idle }, in: b }',
        '{ visit: /safe, in: b, status: 200 }',
        '{ wait: 5m }',
        '{ visit: /safe, in: b, lands: /in, why: idle-expired }',
        '{ login: ann }',
        '{ wait: 29m59s }',
        '{ visit: /desk, status: 200 }',
        '{ wait: { short-of: session-absolute } }',
        '{ visit: /desk, lands: /in, why: idle-expired }',
        '{ login: ann }',
        '{ wait: 29m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: 29m }',
        '{ visit: /desk, status: 200 }',
        '{ wait: { past: session-absolute } }',
        '{ visit: /desk, lands: /in, why: absolute-expired }',
        '{ login: cy, lands: / }',
        '{ wait: 29m }',
        '{ visit: /hall }',
        '{ wait: 29m }',
        '{ visit: /hall }',
        '{ wait: 29m }',
        '{ visit: /hall, status: 200 }',
      ],
    ],
    [
      'a role that is given counts from the next request on',
      { session: 'session: { idle: 30m, by-role: [{ role: chief, idle: 5m }] }' },
      [
        '{ login: ann }',
        '{ wait: 10m }',
        '{ visit: /desk, status: 200 }',
        '{ set-roles: { as: ann, roles: [chief] } }',
        '{ wait: 5m }',
        '{ visit: /desk, lands: /in, why: idle-expired }',
      ],
    ],
  ],
  'paths and domains of cookies': [
    [
      'a cookie with a path is sent there and below, and dropped there',
      {
        pages:
          'pages: { /: { for: everyone }, /app/in: { for: guests }, /app/desk: { for: clerk }, /desk: { for: clerk }, /application: { for: clerk } }',
        login: 'login: { page: /app/in, submit: POST /app/in }',
        landing: 'landing: [{ otherwise: /app/desk }]',
        logout: 'logout: { submit: POST /app/out, lands: / }',
        session: 'session: { idle: 30m, cookie: { path: /app } }',
      },
      [
        '{ login: ann, lands: /app/desk, status: 200, holds: session, session: live }',
        '{ visit: /desk, lands: /app/desk, via: [/desk, /app/in], why: guest }',
        '{ visit: /application, lands: /app/desk, why: guest }',
        '{ visit: /app/desk, status: 200 }',
        '{ logout: , lacks: session }',
      ],
    ],
    [
      'further hosts share what a domain lets them',
      {
        more: 'hosts: [office.app.example, else.example]',
        session: 'session: { idle: 30m, cookie: { domain: app.example } }',
      },
      [
        '{ login: ann }',
        '{ visit: https://office.app.example/desk, lands: https://office.app.example/desk, status: 200, seen-as: ann }',
        '{ visit: https://else.example/desk, lands: https://else.example/in, why: guest }',
        '{ visit: https://other.app.example/desk, why: off-origin }',
        '{ visit: /desk, status: 200 }',
        '{ logout: }',
        '{ visit: https://office.app.example/desk, why: guest }',
      ],
    ],
    [
      'and without one each knows its own',
      { more: 'hosts: [office.app.example]' },
      [
        '{ login: ann }',
        '{ visit: https://office.app.example/desk, lands: https://office.app.example/in, why: guest }',
      ],
    ],
  ],
};

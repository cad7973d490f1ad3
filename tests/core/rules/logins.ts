import type { SCENARIOS } from './cases';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /staff: { for: guests }, /code: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief], refusals: { guest: staff } }, /hall: { for: signed-in } }';
const logins = (staff: string, front = 'return: {}') =>
  `logins: { front: { page: /in, submit: POST /in, ${front} }, staff: { page: /staff, submit: POST /staff, ${staff} } }`;

/** Several logins. */
export const LOGINS: typeof SCENARIOS = {
  'several logins': [
    [
      'take whom they say and land them where they say',
      { pages: PAGES, login: logins('takes: chief, landing: [{ otherwise: /hall }], return: {}') },
      [
        '{ login: { as: bo, at: staff }, lands: /hall, seen-as: bo }',
        '{ visit: /staff, lands: /hall, why: guests-only }',
        '{ visit: /in, lands: /safe, why: guests-only }',
        '{ logout: }',
        '{ login: { as: bo, at: front }, lands: /safe }',
        '{ logout: }',
        '{ login: { as: ann, at: staff }, lands: /staff, why: other-login, seen-as: guest, session: none }',
        '{ login: { as: ann, at: front }, lands: /desk }',
        '{ visit: /staff, lands: /desk, why: guests-only }',
      ],
    ],
    [
      'are where refusals send people, who get back from there',
      { pages: PAGES, login: logins('takes: chief, return: {}') },
      [
        '{ visit: /safe, lands: /staff?back=/safe, why: guest }',
        '{ login: bo, lands: /safe, via: [/staff] }',
        '{ logout: }',
        '{ visit: /desk, lands: /in?back=/desk }',
        '{ login: bo, lands: /desk, via: [/in] }',
      ],
    ],
    [
      'are found by what stands in front, and else by whom they take',
      { pages: PAGES, login: logins('', 'takes: clerk') },
      [
        '{ login: cy, via: [/staff], lands: / }',
        '{ logout: }',
        '{ login: ann, via: [/in], lands: /desk }',
        '{ logout: }',
        '{ visit: /staff }',
        '{ login: ann, via: [/staff], lands: /desk }',
      ],
    ],
    [
      'have a limit of attempts each, and count under one name',
      {
        pages: PAGES,
        login: logins(
          'attempts: { most: 2, within: 1h, pause: 5m }, fields: { account: staff-no, password: pin }',
          'attempts: { most: 3, within: 1h, pause: 1m }',
        ),
      },
      [
        '{ login: { as: ann, password: x, at: front }, why: wrong-password }',
        '{ login: { as: ann, password: x, at: staff }, why: wrong-password }',
        '{ login: { as: ann, at: staff }, why: locked-out }',
        '{ login: { as: ann, at: front }, why: locked-out }',
        '{ wait: 1m }',
        '{ login: { as: ann, at: staff }, why: locked-out }',
        '{ login: { as: ann, at: front }, lands: /desk }',
      ],
    ],
    [
      'ask for a code that leads on from where it was asked for',
      {
        accounts: 'accounts: { bo: { password: b-2, roles: [chief], second-factor: true } }',
        pages: PAGES,
        login: logins('takes: chief, landing: [{ otherwise: /hall }], return: {}'),
        more: 'second-factor: { page: /code, submit: POST /code, life: 5m }',
      },
      [
        '{ login: { as: bo, at: staff }, lands: /code, why: code-needed }',
        '{ code: right, lands: /hall }',
        '{ logout: }',
        '{ visit: /safe, lands: /staff?back=/safe }',
        '{ login: bo, lands: /code?back=/safe }',
        '{ code: late, lands: /staff?back=/safe, why: code-expired }',
        '{ login: { as: bo, at: front }, lands: /code }',
        '{ code: right, lands: /safe }',
      ],
    ],
    [
      'renew the session id each by itself',
      {
        pages: PAGES,
        login: logins('renew-session-id: false'),
        session: 'session: { starts: at-first-visit, idle: 30m }',
      },
      [
        '{ visit: / }',
        '{ copy: { what: session, to: thief } }',
        '{ login: { as: ann, at: front }, seen-as: ann }',
        '{ visit: /hall, in: thief, seen-as: guest }',
        '{ logout: }',
        '{ visit: / }',
        '{ copy: { what: session, to: thief } }',
        '{ login: { as: ann, at: staff }, seen-as: ann, expect-broken: new-id }',
        '{ visit: /hall, in: thief, seen-as: ann }',
      ],
    ],
  ],
};

import type { SCENARIOS } from './cases';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk], loads: [GET /api/desk] }, /safe: { for: [chief] }, /terms: { for: signed-in, sets: { terms: done } }, /help/a: { for: everyone }, /api/desk: { for: [clerk], kind: api }';
const PEOPLE =
  'accounts: { ann: { password: a-1, roles: [clerk], facts: { terms: open } }, bo: { password: b-2, roles: [chief] } }';
const TERMS =
  'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms, /help/**], returns: true, api: 403 }]';
const CLOSED =
  'barriers: [{ name: closed, stops: { flags: { closed: on }, none: [chief] }, answers: 503, also: [sign-up] }]\nflags: { closed: on }\nsign-up: { page: /up, submit: POST /up }';

/** What comes before everything else. */
export const BARRIERS: typeof SCENARIOS = {
  barriers: [
    [
      'send people to the page where they pass, and on from there',
      { accounts: PEOPLE, pages: `${PAGES} }`, more: TERMS },
      [
        '{ visit: /desk, lands: /in?back=/desk, why: guest }',
        '{ login: ann, lands: /terms?back=/desk, status: 200, via: [/in, /desk], why: barrier, seen-as: ann }',
        '{ visit: /, lands: /terms?back=/, why: barrier }',
        '{ visit: /help/a, status: 200 }',
        '{ visit: /nothing, lands: /terms, why: barrier }',
        '{ send: GET /api/desk, status: 403, why: barrier }',
        '{ visit: /safe, lands: /terms?back=/safe, why: barrier }',
        '{ send: POST /terms, lands: /terms, status: 200 }',
        '{ visit: /desk, status: 200 }',
        '{ set-facts: { as: ann, facts: { terms: open } } }',
        '{ visit: /desk?day=2, lands: /terms?back=%2Fdesk%3Fday%3D2 }',
        '{ send: POST /terms, lands: /desk?day=2, via: [/terms] }',
      ],
    ],
    [
      'do not lead off the site, nor where nobody may be',
      { accounts: PEOPLE, pages: `${PAGES} }`, more: TERMS },
      [
        '{ login: ann, lands: /terms }',
        '{ visit: /terms?back=https://wreckers.example/ }',
        '{ send: POST /terms, lands: /terms, status: 200 }',
        '{ set-facts: { as: ann, facts: { terms: open } } }',
        '{ visit: /terms?back=/safe }',
        '{ send: POST /terms, lands: /terms, status: 200 }',
      ],
    ],
    [
      'let the ways in and out through, and a logout leave them behind',
      { accounts: PEOPLE, pages: `${PAGES} }`, more: TERMS },
      ['{ login: ann, lands: /terms }', '{ logout: , lands: /, status: 200 }', '{ visit: /, status: 200 }'],
    ],
    [
      'by a switch they stop guests too, but for the login',
      { accounts: PEOPLE, pages: `${PAGES}, /up: { for: guests } }`, more: CLOSED },
      [
        '{ visit: /, status: 503, why: barrier }',
        '{ visit: /up, status: 503, why: barrier }',
        '{ sign-up: { as: di, password: d-4 }, status: 503, why: barrier }',
        '{ send: GET /api/desk, status: 503, why: barrier }',
        '{ visit: /in, status: 200 }',
        '{ login: bo, lands: /safe, status: 200, seen-as: bo }',
        '{ visit: /, status: 200 }',
        '{ login: ann, in: other, lands: /desk, status: 503, why: barrier, session: live }',
        '{ set-flag: { closed: off } }',
        '{ reload: , in: other, status: 200 }',
        '{ visit: /up, in: third, status: 200 }',
      ],
    ],
    [
      'stop the login too where they say so',
      {
        accounts: PEOPLE,
        pages: `${PAGES}, /up: { for: guests } }`,
        more: `${CLOSED.replace('also: [sign-up]', 'also: [login]')}
identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example } } }`,
      },
      [
        '{ visit: /in, status: 503, why: barrier }',
        '{ visit: /up, status: 200 }',
        '{ visit: /go, status: 503, why: barrier }',
        '{ visit: /go/back, status: 503, why: barrier }',
        '{ set-flag: { closed: off } }',
        '{ login: { as: ann, with: port-id }, lands: /desk, seen-as: ann }',
      ],
    ],
    [
      'are asked in order, and by roles they stop no guest',
      {
        pages: `${PAGES} }`,
        more: 'barriers: [{ name: one, stops: { none: [chief] }, answers: 403 }, { name: two, stops: signed-in, answers: 451 }]',
      },
      [
        '{ visit: /, status: 200 }',
        '{ login: ann, lands: /desk, status: 403, why: barrier }',
        '{ login: bo, in: other, lands: /safe, status: 451, why: barrier }',
      ],
    ],
  ],
};

import type { SCENARIOS } from './cases';

const ACCOUNTS =
  'accounts: { ann: { password: a-1, roles: [clerk] }, di: { password: d-4, roles: [clerk] }, bo: { password: b-2, roles: [chief] }, cy: { password: c-3 }, bot: { key: true, roles: [clerk] }, old: { password: o-5, roles: [clerk], state: suspended } }';

/** A policy with a machine, and an api. */
const keys = (rest: string, more: Record<string, string> = {}) => ({
  accounts: ACCOUNTS,
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /api/x: { kind: api, for: [clerk] }, /api/code: { kind: api, for: { any: [clerk], login-within: 5m } }, /sets: { for: signed-in, sets: { seen: yes } } }',
  more: `api-keys: { ${rest} }`,
  ...more,
});
const by = (request: string, more = '') => `send: { request: ${request}, key: bot${more} }`;

/** A policy whose chief acts for clerks. */
const acting = (rest = '', more: Record<string, string> = {}) => ({
  accounts: ACCOUNTS.replace(', bot: { key: true, roles: [clerk] }', ''),
  more: `impersonation: { start: POST /as/:who, stop: POST /back, by: [chief], of: [clerk]${rest} }`,
  ...more,
});
const MACHINE = { accounts: ACCOUNTS, more: `api-keys: {}\n${acting().more}` };

/** Machines with keys, and people who act for others. */
export const MACHINES_AND_ACTING: typeof SCENARIOS = {
  'a key': [
    [
      'stands for its machine at each request, and leaves the browser as it is',
      keys(''),
      [
        '{ login: cy, lands: / }',
        `{ ${by('GET /api/x')}, status: 200, seen-as: bot, lands: / }`,
        `{ ${by('GET /desk')}, status: 200, seen-as: bot, holds: session }`,
        `{ ${by('GET /safe')}, status: 403, why: role }`,
        // It is signed in all the time, and as such no guest.
        `{ ${by('GET /in')}, status: 302, why: guests-only }`,
        `{ ${by('GET /nowhere')}, status: 404, why: unknown-page }`,
        '{ visit: /hall, seen-as: cy }',
      ],
    ],
    [
      'is no login: what asks for a fresh one is closed to it',
      keys(''),
      [`{ ${by('GET /api/code')}, status: 401, why: stale-login, seen-as: bot }`],
    ],
    [
      'lasts as long as the policy says, to the second',
      keys('life: 30d'),
      [
        '{ wait: 29d23h59m59s }',
        `{ ${by('GET /api/x')}, status: 200 }`,
        '{ wait: 1s }',
        `{ ${by('GET /api/x')}, status: 401, why: key-expired, seen-as: guest }`,
        '{ rotate-key: bot }',
        `{ ${by('GET /api/x')}, status: 200 }`,
        `{ ${by('GET /api/x', ', old: true')}, status: 401, why: key-expired }`,
      ],
    ],
    [
      'goes on beside the next one for the overlap, and without one not at all',
      keys('overlap: 1h'),
      [
        '{ rotate-key: bot }',
        '{ wait: 59m59s }',
        `{ ${by('GET /api/x', ', old: true')}, status: 200 }`,
        '{ wait: 1s }',
        `{ ${by('GET /api/x', ', old: true')}, status: 401, why: key-expired }`,
      ],
    ],
    [
      'is over at once where there is no overlap',
      keys(''),
      ['{ rotate-key: bot }', `{ ${by('GET /api/x', ', old: true')}, status: 401, why: key-expired }`],
    ],
    [
      'is called back with those before it, until there is another',
      keys('overlap: 1d'),
      [
        '{ rotate-key: bot }',
        '{ revoke-key: bot }',
        `{ ${by('GET /api/x', ', old: true')}, status: 401, why: key-revoked }`,
        `{ ${by('GET /api/x')}, status: 401, why: key-revoked }`,
        '{ rotate-key: bot }',
        `{ ${by('GET /api/x')}, status: 200 }`,
      ],
    ],
    [
      'follows what becomes of its account',
      keys(''),
      [
        '{ set-roles: { as: bot, roles: [] } }',
        `{ ${by('GET /api/x')}, status: 403, why: role, seen-as: bot }`,
        '{ suspend: bot }',
        `{ ${by('GET /api/x')}, status: 401, why: suspended, seen-as: guest }`,
        '{ delete-account: bot }',
        `{ ${by('GET /api/x')}, status: 401, why: account-gone }`,
      ],
    ],
    ...['sent: bearer', 'sent: header', 'sent: header, name: X-Bot', 'sent: address, name: who'].map(
      (sent): (typeof SCENARIOS)[string][number] => [
        `is found where it is sent (${sent}), and its machine writes`,
        keys(sent, { more: `api-keys: { ${sent} }\ncsrf: { token: per-session, before: guard }` }),
        [
          `{ ${by('GET /api/x?a=1')}, status: 200, seen-as: bot }`,
          // No form of a page, and so without its token.
          `{ ${by('POST /sets')}, status: 200, seen-as: bot }`,
        ],
      ],
    ),
    [
      'opens no door to people: nobody logs in to it, and no link is sent to it',
      keys('', {
        more: 'api-keys: {}\npassword: { reset: { page: /, submit: POST /f, link: /r/:t, life: 5m, tells: true } }',
      }),
      ['{ send: POST /in, lands: /in, why: wrong-password }', '{ ask-reset: ann, lands: / }'],
    ],
  ],
  'acting for somebody': [
    [
      'gives the rights of the account and takes those of whoever acts',
      acting(),
      [
        '{ login: bo, lands: /safe, acted-by: nobody }',
        '{ send: POST /as/ann, lands: /desk, seen-as: ann, acted-by: bo }',
        '{ visit: /safe, status: 403, why: role, seen-as: ann, acted-by: bo }',
        '{ send: POST /back, lands: /safe, seen-as: bo, acted-by: nobody }',
      ],
    ],
    [
      'is for those who may and of those for whom they may',
      acting(),
      [
        '{ send: POST /as/ann, lands: /in?back=/as/ann, why: guest }'.replace('?back=/as/ann', ''),
        '{ login: ann }',
        '{ send: POST /as/di, status: 403, why: role, seen-as: ann }',
        '{ login: bo, in: other }',
        '{ send: POST /as/cy, in: other, status: 403, why: role }',
        '{ send: POST /as/old, in: other, status: 403, why: role }',
        '{ send: POST /as/nobody, in: other, status: 403, why: role }',
        '{ send: POST /as/bo, in: other, status: 403, why: role, seen-as: bo }',
      ],
    ],
    ['is for no machine', MACHINE, ['{ login: bo }', '{ send: POST /as/bot, status: 403, why: role }']],
    [
      'goes no further from there, and ends by itself',
      acting(', life: 10m'),
      [
        '{ login: bo }',
        '{ send: POST /as/ann, acted-by: bo }',
        '{ send: POST /as/di, status: 403, why: acting, seen-as: ann }',
        '{ wait: 9m59s }',
        '{ visit: /hall, seen-as: ann, acted-by: bo }',
        '{ wait: 1s }',
        '{ visit: /hall, seen-as: bo, acted-by: nobody }',
        '{ send: POST /as/di, acted-by: bo, seen-as: di }',
      ],
    ],
    [
      'closes what is theirs alone, however it is asked for',
      acting(", not: ['/hall/**']"),
      [
        '{ login: bo }',
        '{ send: POST /as/ann }',
        '{ visit: /hall, status: 403, why: acting }',
        '{ send: DELETE /hall/x, status: 403, why: acting }',
        '{ visit: /desk, status: 200, seen-as: ann }',
      ],
    ],
    [
      'is over once either loses what it hangs on',
      acting(),
      [
        '{ login: bo }',
        '{ send: POST /as/ann }',
        '{ suspend: ann }',
        '{ visit: /safe, status: 200, seen-as: bo, acted-by: nobody }',
        '{ send: POST /as/di, acted-by: bo }',
        '{ set-roles: { as: di, roles: [] } }',
        '{ visit: /safe, seen-as: bo }',
        '{ set-roles: { as: di, roles: [clerk] } }',
        '{ visit: /desk, seen-as: di, acted-by: bo }',
        '{ set-roles: { as: bo, roles: [clerk] } }',
        '{ visit: /safe, status: 403, seen-as: bo }',
      ],
    ],
    [
      'ends with the session of whoever acts, under a session id of its own',
      acting(),
      [
        '{ login: bo }',
        '{ copy: { what: session, to: thief } }',
        '{ send: POST /as/ann, acted-by: bo }',
        '{ visit: /hall, in: thief, lands: /in, why: signed-out }',
        '{ logout: , lands: / }',
        '{ login: bo, lands: /safe, acted-by: nobody }',
        '{ send: POST /as/ann, acted-by: bo }',
        '{ suspend: bo }',
        '{ visit: /desk, lands: /in, why: suspended }',
      ],
    ],
    [
      'is in all browsers of the account, and outlives the logout, where it is noted with that',
      acting(', kept: account'),
      [
        '{ login: bo }',
        '{ login: bo, in: other }',
        '{ send: POST /as/ann, acted-by: bo }',
        '{ visit: /desk, in: other, seen-as: ann, acted-by: bo }',
        '{ logout: }',
        '{ login: bo, lands: /desk, seen-as: ann, acted-by: bo, status: 200 }',
        '{ logout: }',
        '{ visit: /hall, lands: /in?back=/hall }',
        '{ login: bo, lands: /hall, seen-as: ann }',
        '{ send: POST /back, in: other, seen-as: bo }',
        '{ visit: /safe, seen-as: bo, acted-by: nobody }',
      ],
    ],
    [
      'logs out whoever acts, and everywhere them alone',
      acting('', { logout: 'logout: { submit: POST /out, everywhere: true }' }),
      [
        '{ login: ann, in: own }',
        '{ login: bo, in: other }',
        '{ login: bo }',
        '{ send: POST /as/ann }',
        '{ logout: }',
        '{ visit: /hall, in: other, lands: /in, why: signed-out }',
        '{ visit: /hall, in: own, seen-as: ann }',
      ],
    ],
    [
      'is got out of whatever the rules say of the address',
      acting('', {
        rules:
          "rules: [{ path: /back, for: [chief] }, { path: '/as/**', for: { any: [chief], login-within: 5m } }]",
      }),
      [
        '{ send: POST /back, lands: /in, why: guest }',
        '{ login: bo }',
        '{ send: POST /as/ann, acted-by: bo }',
        '{ send: POST /back, seen-as: bo }',
        '{ wait: 5m }',
        '{ send: POST /as/ann, lands: /in, why: stale-login }',
      ],
    ],
    [
      'counts the code that whoever acts has given, and no other',
      acting('', {
        accounts: ACCOUNTS.replace(', bot: { key: true, roles: [clerk] }', '').replace(
          'roles: [chief]',
          'roles: [chief], second-factor: true',
        ),
        pages:
          'pages: { /: { for: everyone }, /in: { for: guests }, /c: { for: guests }, /desk: { for: { any: [clerk], second-factor: true } }, /safe: { for: [chief] } }',
        more: `${acting().more}\nsecond-factor: { page: /c, submit: POST /c, life: 5m }`,
      }),
      ['{ login: bo }', '{ code: right }', '{ send: POST /as/ann, lands: /desk, status: 200, seen-as: ann }'],
    ],
  ],
};

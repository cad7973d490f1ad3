import type { SCENARIOS } from './cases';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests }, /forgot: { for: guests }, /mail: { for: guests }, /me: { for: signed-in }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const CODED = {
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief], second-factor: true } }',
  pages: `${PAGES} }`,
};
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m }';
const CHANGE = 'change: { page: /me, submit: POST /me';
const RESET = 'reset: { page: /forgot, submit: POST /forgot, link: /reset/:token, life: 30m';
const LINK = 'link-login: { page: /mail, submit: POST /mail, link: /by/:token, life: 10m';
const TOKENS = {
  pages: `${PAGES.replace('/me: { for: signed-in }', '/me: { for: signed-in, guard: browser }')}, /api/a: { for: clerk, kind: api } }`,
  login: 'login: { page: /in, submit: POST /in, by: tokens }',
  landing: 'landing: [{ otherwise: / }]',
};

/** Passwords that are changed and reset, and links to log in by. */
export const PASSWORDS: typeof SCENARIOS = {
  'a changed password': [
    [
      'ends the other sessions, and leaves its own under another id',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} } }` },
      [
        '{ login: ann, in: other }',
        '{ login: ann }',
        '{ copy: { what: session, to: thief } }',
        '{ change-password: { old: x, new: c-3 }, lands: /me, why: wrong-password, seen-as: ann }',
        '{ visit: /desk, in: other, status: 200 }',
        '{ change-password: { new: c-3 }, lands: /me, status: 200, why: served, seen-as: ann }',
        '{ visit: /desk, status: 200 }',
        '{ visit: /desk, in: thief, lands: /in?back=/desk, why: password-changed }',
        '{ visit: /desk, in: other, lands: /in?back=/desk, why: password-changed }',
        '{ login: ann, in: other, why: wrong-password, seen-as: guest }',
        '{ login: { as: ann, password: c-3 }, in: other, lands: /desk }',
      ],
    ],
    [
      'is as old as the session was',
      {
        pages: `${PAGES} }`,
        session: 'session: { absolute: 1h }',
        more: `password: { ${CHANGE}, lands: /hall } }`,
      },
      [
        '{ login: ann }',
        '{ wait: 59m }',
        '{ change-password: { new: c-3 }, lands: /hall }',
        '{ wait: 1m }',
        '{ visit: /desk, why: absolute-expired }',
      ],
    ],
    [
      'may keep its own session, and that of whoever has a copy',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} }, own: keeps }` },
      [
        '{ login: ann }',
        '{ copy: { what: session, to: thief } }',
        '{ change-password: { new: c-3 }, lands: /me, expect-broken: password-final }',
        '{ visit: /desk, in: thief, status: 200, expect-broken: password-final }',
      ],
    ],
    [
      'may end its own session too',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} }, own: ends }` },
      [
        '{ login: ann }',
        '{ change-password: { new: c-3 }, lands: /in, session: none, lacks: session }',
        '{ login: { as: ann, password: c-3 }, lands: /desk }',
      ],
    ],
    [
      'by somebody with access to the app ends the same',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} } }\nremember: { life: 10d }` },
      [
        '{ login: { as: ann, remember: true } }',
        '{ set-password: { as: ann, password: c-3 } }',
        '{ visit: /desk, lands: /in?back=/desk, why: password-changed }',
        '{ close-browser: }',
        '{ visit: /desk, lands: /in?back=/desk, why: guest }',
      ],
    ],
    [
      'gives script new tokens, and calls the others back where it says so',
      {
        ...TOKENS,
        more: `tokens: { access: { life: 5m }, refresh: { life: 1h } }\npassword: { ${CHANGE} }, ends: [access, refresh] }`,
      },
      [
        '{ login: ann, in: other }',
        '{ login: ann }',
        '{ change-password: { new: c-3 }, lands: /me }',
        '{ send: GET /api/a, status: 200, seen-as: ann, refreshes: 0 }',
        '{ send: GET /api/a, in: other, seen-as: guest }',
      ],
    ],
    [
      'leaves access tokens to their end unless it names them',
      {
        ...TOKENS,
        more: `tokens: { access: { life: 5m }, refresh: { life: 1h } }\npassword: { ${CHANGE} } }\npromises: [{ after: password-changed, copied: access, works-at-most: 5m }]`,
      },
      [
        '{ login: ann, in: other }',
        '{ login: ann }',
        '{ change-password: { new: c-3 } }',
        '{ send: GET /api/a, in: other, status: 200 }',
        '{ wait: 5m }',
        '{ send: GET /api/a, in: other, seen-as: guest }',
      ],
    ],
    [
      'is for whoever is signed in',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} } }` },
      [
        '{ change-password: { old: a-1, new: x }, lands: /in?back=/me, why: guest }',
        '{ login: ann, lands: /me }',
      ],
    ],
    [
      'needs no old one where none is asked for',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE}, asks-old: false } }` },
      ['{ login: ann }', '{ change-password: { old: x, new: c-3 }, lands: /me, why: served }'],
    ],
  ],
  'a link for a new password': [
    [
      'is good once, for its life, and ends the sessions',
      { pages: `${PAGES} }`, more: `password: { ${RESET} } }` },
      [
        '{ login: ann, in: other }',
        '{ ask-reset: ann, lands: /forgot, why: served, seen-as: guest }',
        '{ reset: { as: ann, password: c-3 }, lands: /in, why: served, seen-as: guest }',
        '{ visit: /desk, in: other, why: password-changed }',
        '{ login: { as: ann, password: c-3 }, lands: /desk }',
        '{ logout: }',
        '{ reset: { as: ann, password: d-4 }, status: 404, why: unknown-page, lands: /reset/link-1 }',
        '{ ask-reset: ann }',
        '{ reset: { as: ann, password: e-5, late: true }, lands: /forgot, why: code-expired }',
        '{ login: { as: ann, password: c-3 }, lands: /desk }',
      ],
    ],
    [
      'signs in where it says so, with the code that is owed',
      { ...CODED, more: `${CODE}\npassword: { ${RESET}, then: signed-in } }` },
      [
        '{ ask-reset: ann }',
        '{ reset: { as: ann, password: c-3 }, lands: /desk, seen-as: ann }',
        '{ logout: }',
        '{ ask-reset: bo }',
        '{ reset: { as: bo, password: c-3 }, lands: /code, why: code-needed, seen-as: guest }',
        '{ code: right, lands: /safe }',
      ],
    ],
    [
      'signs in past the code where it counts as one',
      { ...CODED, more: `${CODE}\npassword: { ${RESET}, then: signed-in, code: given } }` },
      ['{ ask-reset: bo }', '{ reset: { as: bo, password: c-3 }, lands: /safe, expect-broken: code-first }'],
    ],
    [
      'tells nobody apart, or whoever has an account',
      { pages: `${PAGES} }`, more: `password: { ${RESET}, tells: true, lands: /hall } }` },
      [
        '{ ask-reset: nobody, status: 404, why: account-gone }',
        '{ ask-reset: ann, lands: /in?back=/hall, why: guest }',
      ],
    ],
    [
      'lets nobody in who is suspended',
      { pages: `${PAGES} }`, more: `password: { ${RESET}, then: signed-in } }` },
      [
        '{ ask-reset: ann }',
        '{ suspend: ann }',
        '{ reset: { as: ann, password: c-3 }, lands: /in, seen-as: guest }',
        '{ login: { as: ann, password: c-3 }, why: suspended }',
      ],
    ],
    [
      'outlives a changed password where that does not end it',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} }, ${RESET} }, ends: [session] }` },
      [
        '{ ask-reset: ann, in: other }',
        '{ login: ann }',
        '{ change-password: { new: c-3 }, expect-broken: password-final }',
        '{ reset: { as: ann, password: d-4 }, in: other, lands: /in }',
      ],
    ],
    [
      'is over with a changed password, and with a link that was used',
      { pages: `${PAGES} }`, more: `password: { ${CHANGE} }, ${RESET} } }` },
      [
        '{ ask-reset: ann }',
        '{ ask-reset: ann }',
        '{ reset: { as: ann, password: c-3 }, lands: /in }',
        '{ visit: /reset/link-1, status: 404, why: unknown-page }',
        '{ ask-reset: ann }',
        '{ login: { as: ann, password: c-3 }, in: other }',
        '{ change-password: { old: c-3, new: d-4 }, in: other }',
        '{ reset: { as: ann, password: e-5 }, status: 404, why: unknown-page }',
      ],
    ],
  ],
  'a link to log in by': [
    [
      'is good once, in its life and in its browser',
      { pages: `${PAGES} }`, more: `${LINK} }` },
      [
        '{ ask-link: ann, lands: /mail }',
        '{ open-link: ann, in: other, lands: /mail, why: other-browser, seen-as: guest }',
        '{ open-link: ann, lands: /desk, seen-as: ann }',
        '{ logout: }',
        '{ open-link: ann, status: 404, why: unknown-page }',
        '{ ask-link: ann }',
        '{ open-link: { as: ann, late: true }, lands: /mail, why: code-expired }',
        '{ ask-link: nobody, lands: /mail, status: 200 }',
      ],
    ],
    [
      'signs in whoever opens it, where any browser will do',
      { pages: `${PAGES} }`, more: `${LINK}, same-browser: false }` },
      [
        '{ ask-link: ann, in: thief }',
        '{ open-link: ann, lands: /desk, seen-as: ann, expect-broken: own-login }',
        '{ logout: }',
        '{ ask-link: ann }',
        '{ open-link: ann, lands: /desk, seen-as: ann }',
      ],
    ],
    [
      'asks for the code that is owed',
      { ...CODED, more: `${CODE}\n${LINK} }` },
      [
        '{ ask-link: bo }',
        '{ open-link: bo, lands: /code, why: code-needed }',
        '{ code: right, lands: /safe }',
      ],
    ],
    [
      'lets nobody in who is suspended, or signed in already',
      { pages: `${PAGES} }`, more: `${LINK} }` },
      [
        '{ ask-link: ann }',
        '{ suspend: ann }',
        '{ open-link: ann, lands: /mail, why: suspended, seen-as: guest }',
        '{ ask-link: bo }',
        '{ login: cy }',
        '{ open-link: bo, lands: /, why: guests-only, seen-as: cy }',
      ],
    ],
  ],
};

import type { policyText } from '../../support/policies';

const LOGIN =
  'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 5, within: 5m, pause: 5m }';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const TOKENS = 'tokens: { access: { life: 5m }, refresh: { life: 1h } }';
const BOTH = { login: `${LOGIN}, by: both }`, pages: `${PAGES}, /api/a: { for: clerk, kind: api } }` };
const PROMISED = 'promises: [{ after: logout, copied: access, works-at-most: 5m }]';
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m }';
const CODED = (page: string, data: string) =>
  `${PAGES}, /code: { for: guests }, /vault: { for: ${page}, loads: [GET /api/v] }, /api/v: { for: ${data}, kind: api } }`;
const FACTOR = '{ any: clerk, second-factor: true }';
const KEPT_KNOWN =
  'remember: { life: 10h, rotates: true }\npromises: [{ after: logout, copied: remember, works-at-most: 12h }]';
const ROTATED = {
  login: `${LOGIN}, by: tokens }`,
  pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
  landing: 'landing: [{ otherwise: / }]',
};
const ROTATING = 'tokens: { access: { life: 5m }, refresh: { life: 1h, rotates: true, longest: 10h } }';
const WITH_CODE = 'accounts: { di: { password: d-4, roles: [clerk], second-factor: true } }';
const JOINING =
  'sign-up: { page: /join, submit: POST /join, then: confirm }\nconfirm: { path: /confirm/:token, life: 1d }';
const OWN_PASSWORD = { pages: `${PAGES}, /me: { for: signed-in } }` };
const RESET = 'reset: { page: /in, submit: POST /forgot, link: /reset/:token, life: 30m }';
const PROVIDER =
  'identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example }';
const BY_LINK = 'link-login: { page: /in, submit: POST /mail, link: /by/:token, life: 10m';
type Parts = Parameters<typeof policyText>[0];

const ACTING = 'impersonation: { start: POST /as/:who, stop: POST /back, by: chief, of: clerk }';
const CHANGED = {
  more: 'password: { change: { page: /hall, submit: POST /change, asks-old: false }, own: keeps }',
};

const CHANGE = 'password: { change: { page: /me, submit: POST /me } }';
const GOT_BEFORE =
  'remember: { life: 14d }\npromises: [{ after: logout, copied: remember, works-at-most: 1s }, { after: logout, copied: session, works-at-most: 2s }]';
const CLOSABLE = { accounts: 'accounts: { bo: { password: b-2, roles: [chief] } }' };
const CLOSED = (rest: string) =>
  `flags: { shut: off }\nbarriers: [{ name: shut, stops: { flags: { shut: on }, none: [chief] }, answers: 503${rest} }]`;
const TERMS = (page: string) => ({
  accounts: 'accounts: { ann: { password: a-1, roles: [clerk], facts: { terms: open } } }',
  pages: `${PAGES}, /terms: ${page} }`,
});
const TERMS_FIRST =
  'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms], api: 403 }]';

const PAYING = (code: string) => ({
  accounts: WITH_CODE,
  pages: `${PAGES}, /code: ${code}, /pay: { for: signed-in, kind: api, after-write: / } }`,
  more: CODE,
});

/** Of each law a policy and walk that break it at the last step, with what is seen, and the nearest that do not. */
export const CASES: [law: string, bad: Parts, steps: string[], seen: string, good: Parts][] = [
  [
    'right-audience',
    { ...BOTH, more: TOKENS },
    ['{ login: ann }', '{ set-roles: { as: ann, roles: [] } }', '{ send: GET /api/a }'],
    'ann is shown /api/a although the account may not see it any more',
    { ...BOTH, more: `${TOKENS}\npromises: [{ after: role-removed, access-lasts-at-most: 5m }]` },
  ],
  [
    'right-audience',
    { session: 'session: { roles: at-login }' },
    ['{ login: ann }', '{ set-roles: { as: ann, roles: [] } }', '{ visit: /desk }'],
    'ann is shown /desk although the account may not see it any more',
    { session: 'session: { roles: each-request }' },
  ],
  [
    'right-audience',
    {
      pages: `${PAGES}, /list: { for: chief, loads: [GET /api/l] }, /api/l: { for: signed-in, kind: api } }`,
    },
    ['{ login: ann }', '{ send: GET /api/l }'],
    'ann gets /api/l, the data of /list, which they may not see',
    { pages: `${PAGES}, /list: { for: chief, loads: [GET /api/l] }, /api/l: { for: chief, kind: api } }` },
  ],
  [
    'right-audience',
    {
      pages: `${PAGES}, /list: { for: chief, loads: [GET /api/l] }, /more: { for: chief, loads: [GET /api/l] }, /api/l: { for: signed-in, kind: api } }`,
    },
    ['{ login: ann }', '{ send: GET /api/l }'],
    'ann gets /api/l, the data of /list, which they may not see',
    {
      pages: `${PAGES}, /list: { for: chief, loads: [GET /api/l] }, /more: { for: clerk, loads: [GET /api/l] }, /api/l: { for: signed-in, kind: api } }`,
    },
  ],
  [
    'right-audience',
    {
      pages: `${PAGES}, /list: { loads: [GET /api/l] }, /api/l: { for: signed-in, kind: api } }`,
      rules: 'rules: [{ path: /list, for: chief }]',
    },
    ['{ login: ann }', '{ send: GET /api/l }'],
    'ann gets /api/l, the data of /list, which they may not see',
    {
      pages: `${PAGES}, /list: { loads: [GET /api/l] }, /api/l: { for: signed-in, kind: api } }`,
      rules: 'rules: [{ path: /list, for: clerk }]',
    },
  ],
  [
    'guests-only',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: everyone }')} }` },
    ['{ login: ann }', '{ send: POST /in }'],
    'ann may send /in, which is for guests',
    { pages: `${PAGES} }` },
  ],
  [
    'redirects-end',
    { more: 'refusals: { role: /safe }' },
    ['{ login: ann }', '{ visit: /safe }'],
    'the visitor is sent round and round, at last from /safe',
    { more: 'refusals: { role: /desk }' },
  ],
  [
    'targets-exist',
    { logout: 'logout: { submit: POST /out, lands: /bye }' },
    ['{ login: ann }', '{ logout: }'],
    '/out sends the visitor to /bye, which answers 404',
    { logout: 'logout: { submit: POST /out, lands: / }' },
  ],
  [
    'targets-exist',
    {
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
      more: TOKENS,
      landing: 'landing: [{ otherwise: /gone }]',
    },
    ['{ login: ann }'],
    '/in sends the visitor to /gone, which answers 404',
    {
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
      more: TOKENS,
      landing: 'landing: [{ otherwise: / }]',
    },
  ],
  [
    'targets-exist',
    { pages: `${PAGES}, /list: { for: everyone, loads: [GET /api/gone] } }` },
    ['{ visit: /list }'],
    '/list loads /api/gone, which answers 404',
    {
      pages: `${PAGES}, /list: { for: everyone, loads: [GET /api/here] }, /api/here: { for: everyone, kind: api } }`,
    },
  ],
  [
    'targets-exist',
    { landing: 'landing: [{ role: clerk, to: /desk }]' },
    ['{ login: cy }'],
    '/in lets cy in and answers 404: no landing is for them',
    {},
  ],
  [
    'landing-allowed',
    { landing: 'landing: [{ otherwise: /safe }]' },
    ['{ login: ann }'],
    'ann is sent from /in to /safe and refused there: role',
    { landing: 'landing: [{ otherwise: /desk }]' },
  ],
  [
    'way-in',
    {
      pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: chief }')} }`,
      more: 'refusals: { guest: 401 }',
    },
    ['{ visit: / }'],
    'a guest cannot see the login form at /in',
    { more: 'refusals: { guest: 401 }' },
  ],
  [
    'way-in',
    { origin: 'origin: http://app.example', landing: 'landing: [{ otherwise: / }]' },
    ['{ login: ann }'],
    'ann logs in rightly and is a guest again: the browser does not keep the cookie session',
    { origin: 'origin: http://localhost:3000', landing: 'landing: [{ otherwise: / }]' },
  ],
  [
    'way-in',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { read: guests, write: chief }')} }` },
    ['{ login: ann }'],
    'a guest is refused when sending the login form to /in: guest',
    {},
  ],
  [
    'way-in',
    { ...CLOSABLE, more: CLOSED(', also: [login]') },
    ['{ set-flag: { shut: on } }', '{ login: bo }'],
    'bo, whom the barrier shut does not stop, cannot log in while it stands',
    { ...CLOSABLE, more: CLOSED(', also: [login], lets: [/in]') },
  ],
  [
    'roleless-landing',
    { landing: 'landing: [{ role: clerk, to: /desk }]' },
    ['{ set-roles: { as: ann, roles: [] } }', '{ login: ann }'],
    '/in lets ann in and answers 404: no landing is for them',
    { landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]' },
  ],
  [
    'roleless-landing',
    { landing: 'landing: [{ otherwise: /desk }]' },
    ['{ set-roles: { as: ann, roles: [] } }', '{ login: ann }'],
    'ann is sent from /in to /desk and refused there: role',
    { landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]' },
  ],
  [
    'way-through',
    { accounts: WITH_CODE, pages: `${PAGES}, /code: { for: chief } }`, more: CODE },
    ['{ login: di }'],
    'somebody is asked for a one-time code at /code and refused there: code-needed',
    { accounts: WITH_CODE, pages: `${PAGES}, /code: { for: guests } }`, more: CODE },
  ],
  [
    'way-through',
    { ...TERMS('{ for: signed-in }'), more: TERMS_FIRST },
    ['{ login: ann }'],
    'the barrier terms sends ann to /terms, and nothing that they may do lets them pass',
    { ...TERMS('{ for: signed-in, sets: { terms: done } }'), more: TERMS_FIRST },
  ],
  [
    'way-through',
    { session: 'session: { absolute: 1d, at-once: first-wins }' },
    ['{ login: ann }', '{ clear-cookies: }', '{ login: ann }'],
    'ann gives the right password and is let in neither now nor after any pause: another session of theirs is in the way',
    { session: 'session: { idle: 30m, absolute: 1d, at-once: first-wins }' },
  ],
  [
    'way-through',
    PAYING('{ read: guests, write: chief }'),
    ['{ login: di }', '{ send: POST /pay }'],
    'di is refused at /pay (code-needed), and nothing that they may do opens it',
    PAYING('{ for: guests }'),
  ],
  [
    'way-through',
    {
      rules: 'rules: [{ path: /confirm/**, for: signed-in }]',
      more: JOINING,
      pages: `${PAGES}, /join: { for: guests } }`,
    },
    ['{ sign-up: { as: nell, password: n-1 } }', '{ confirm: nell }'],
    'the confirmation link of nell is refused to a guest: guest',
    { more: JOINING, pages: `${PAGES}, /join: { for: guests } }` },
  ],
  [
    'way-through',
    {
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES}, /api/a: { for: clerk, kind: api } }`,
      more: TOKENS,
      landing: 'landing: [{ otherwise: / }]',
    },
    ['{ login: ann }', '{ visit: /desk }'],
    'ann holds a token and is taken for a guest at /desk: no request of a page carries it',
    {
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES.replace('{ for: [clerk] }', '{ for: [clerk], guard: browser, loads: [GET /api/a] }')}, /api/a: { for: clerk, kind: api } }`,
      more: TOKENS,
      landing: 'landing: [{ otherwise: / }]',
    },
  ],
  [
    'way-out',
    { rules: 'rules: [{ path: /out, for: chief }]' },
    ['{ login: ann }'],
    'ann is refused at /out',
    { rules: 'rules: [{ path: /out, for: signed-in }]' },
  ],
  [
    'way-through',
    {
      accounts:
        'accounts: { di: { password: d-4, roles: [clerk], second-factor: true, facts: { terms: open } } }',
      pages: `${PAGES}, /code: { read: guests, write: chief }, /terms: { for: signed-in }, /api/a: { for: clerk, kind: api } }`,
      more: `${CODE}\nbarriers: [{ name: terms, stops: { facts: { terms: shut } }, sends: /terms, lets: [/terms], api: 403 }]`,
    },
    ['{ login: di }', '{ send: GET /api/a }'],
    'di is refused at /api/a (code-needed), and nothing that they may do opens it',
    {
      accounts:
        'accounts: { di: { password: d-4, roles: [clerk], second-factor: true, facts: { terms: open } } }',
      pages: `${PAGES}, /code: { for: guests }, /terms: { for: signed-in }, /api/a: { for: clerk, kind: api } }`,
      more: `${CODE}\nbarriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms], api: 403 }]`,
    },
  ],
  [
    'barrier-first',
    {
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk], facts: { terms: open } } }',
      pages: `${PAGES}, /terms: { for: signed-in, sets: { terms: done } }, /api/a: { for: clerk, kind: api } }`,
      more: 'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms] }]',
    },
    ['{ login: ann }', '{ send: GET /api/a }'],
    'ann gets /api/a although the barrier terms stops them',
    {
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk], facts: { terms: open } } }',
      pages: `${PAGES}, /terms: { for: signed-in, sets: { terms: done } }, /api/a: { for: clerk, kind: api } }`,
      more: 'barriers: [{ name: terms, stops: { facts: { terms: open } }, sends: /terms, lets: [/terms], api: 403 }]',
    },
  ],
  [
    'code-first',
    {
      pages: `${PAGES}, /up: { for: guests }, /code: { for: guests } }`,
      more: 'sign-up: { page: /up, submit: POST /up, roles: [chief], then: login }\nsecond-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
    },
    ['{ sign-up: { as: di, password: d-4 } }'],
    'di is let in without the one-time code that their role owes',
    {
      pages: `${PAGES}, /up: { for: guests }, /code: { for: guests } }`,
      more: 'sign-up: { page: /up, submit: POST /up, roles: [clerk], then: login }\nsecond-factor: { page: /code, submit: POST /code, life: 5m, of: [chief] }',
    },
  ],
  [
    // One after the other: a tab was opened with a copy.
    'honest-refresh',
    { ...BOTH, more: TOKENS },
    [
      '{ login: ann }',
      '{ duplicate-tab: }',
      '{ wait: 5m }',
      '{ send: GET /api/a }',
      '{ close-tab: }',
      '{ send: GET /api/a }',
    ],
    'refresh-1 was used by a tab of theirs that has a copy of it, and is taken for stolen',
    { ...BOTH, more: `${TOKENS.slice(0, -2)}, shared-refresh: true }` },
  ],
  [
    'return-kept',
    {
      login: 'login: { page: /in, submit: POST /in, return: { accept: { listed: [/desk] } } }',
      pages: `${PAGES}, /new: {} }`,
      rules: 'rules: [{ path: /new, for: clerk }]',
    },
    ['{ visit: /new }', '{ login: ann }'],
    'ann asked for /new and lands at /desk',
    {
      login: 'login: { page: /in, submit: POST /in, return: { accept: { listed: [/desk] } } }',
      pages: `${PAGES}, /new: { methods: [POST] } }`,
      rules: 'rules: [{ path: /new, for: clerk }]',
    },
  ],
  [
    'return-kept',
    { login: `${LOGIN.replace('return: {}', 'return: { accept: { listed: [/desk] } }')} }` },
    ['{ visit: /hall }', '{ login: ann }'],
    'ann asked for /hall and lands at /desk',
    { login: `${LOGIN.replace('return: {}', 'return: { accept: { listed: [/hall] } }')} }` },
  ],
  [
    'stays-home',
    { login: `${LOGIN.replace('return: {}', 'return: { accept: leading-slash }')} }` },
    ['{ visit: /in?back=//wreckers.example }', '{ login: ann }'],
    '/in sends the visitor to https://wreckers.example/',
    {},
  ],
  [
    'logout-final',
    { logout: 'logout: { submit: POST /out, ends: [] }' },
    ['{ login: ann }', '{ logout: }'],
    'a copy of the session cookie still counts after the logout',
    {},
  ],
  [
    'logout-final',
    { ...BOTH, more: TOKENS },
    ['{ login: ann }', '{ logout: }'],
    'a copy of the access token still counts after the logout',
    { ...BOTH, more: `${TOKENS}\n${PROMISED}` },
  ],
  [
    'logout-final',
    { ...BOTH, more: `${TOKENS}\n${PROMISED.replace('5m', '4m')}` },
    ['{ login: ann }', '{ logout: }', '{ wait: 4m }'],
    'a copy of the access token still counts 4m after the logout',
    { ...BOTH, more: `${TOKENS}\n${PROMISED}` },
  ],
  [
    'logout-final',
    { logout: 'logout: { submit: POST /out, of: shown }', more: 'remember: { life: 14d }' },
    [
      '{ login: { as: ann, remember: true } }',
      '{ copy: { what: remember, to: thief } }',
      '{ visit: /desk, in: thief }',
      '{ logout: }',
    ],
    'a copy of the session cookie still counts after the logout',
    { more: 'remember: { life: 14d }' },
  ],
  [
    'logout-final',
    { logout: 'logout: { submit: POST /out, of: shown }', more: GOT_BEFORE },
    [
      '{ login: { as: ann, remember: true } }',
      '{ copy: { what: remember, to: thief } }',
      '{ visit: /desk, in: thief }',
      '{ logout: }',
      '{ wait: 1s }',
    ],
    'the session cookie got for a copy of the remember cookie still counts 1s after the logout',
    { more: GOT_BEFORE },
  ],
  [
    'logout-final',
    {
      ...BOTH,
      logout: 'logout: { submit: POST /out, of: shown }',
      more: `${TOKENS}\nremember: { life: 14d }`,
    },
    [
      '{ login: { as: ann, remember: true } }',
      '{ copy: { what: refresh, to: thief } }',
      '{ wait: 30m }',
      '{ visit: / }',
      '{ refresh: , in: thief }',
      '{ logout: }',
    ],
    'a copy of the access token still counts after the logout',
    { ...BOTH, more: `${TOKENS}\nremember: { life: 14d }\n${PROMISED}` },
  ],
  [
    // Another tab of the same browser, and nobody else.
    'logout-final',
    { ...BOTH, more: TOKENS.replace('5m }', '5m, kept: tab }') },
    ['{ login: ann }', '{ new-tab: }', '{ logout: }'],
    'a copy of the access token still counts after the logout',
    { ...BOTH, more: `${TOKENS.replace('5m }', '5m, kept: tab }')}\n${PROMISED}` },
  ],
  [
    'password-final',
    { ...OWN_PASSWORD, more: `remember: { life: 14d }\n${CHANGE.replace(/}$/, ', own: keeps }')}` },
    [
      '{ login: { as: ann, remember: true } }',
      '{ copy: { what: remember, to: thief } }',
      '{ change-password: { old: a-1, new: other } }',
    ],
    'a copy of the session cookie still counts after the password was changed',
    { ...OWN_PASSWORD, more: `remember: { life: 14d }\n${CHANGE}` },
  ],
  [
    'logout-final',
    { more: 'back-button: cached' },
    ['{ login: ann }', '{ logout: }', '{ back: }'],
    'the back button shows /desk of ann again',
    {},
  ],
  [
    'logout-final',
    { logout: 'logout: { submit: POST /out, clears: [] }' },
    ['{ login: ann }', '{ logout: }', '{ back: }'],
    'the back button shows /desk of ann again',
    {},
  ],
  [
    'own-request',
    { session: 'session: { cookie: { same-site: none } }' },
    ['{ login: ann }', '{ send: POST /desk, from: "https://wreckers.example" }'],
    'a form on another site sends POST /desk in the name of ann',
    { session: 'session: { cookie: { same-site: lax } }' },
  ],
  [
    'own-request',
    { session: 'session: { cookie: { same-site: none } }', more: ACTING },
    ['{ login: bo }', '{ send: POST /as/ann, from: "https://wreckers.example" }'],
    'a form on another site sends POST /as/ann in the name of bo',
    { session: 'session: { cookie: { same-site: lax } }', more: ACTING },
  ],
  [
    'own-request',
    { session: 'session: { cookie: { same-site: unset } }', ...CHANGED },
    ['{ login: ann }', '{ send: POST /change, from: "https://wreckers.example" }'],
    'a form on another site sends POST /change in the name of ann',
    { session: 'session: { cookie: { same-site: lax } }', ...CHANGED },
  ],
  [
    'own-request',
    { logout: 'logout: { submit: GET /out }' },
    ['{ login: ann }', '{ visit: /out, from: "https://wreckers.example" }'],
    'another site logs ann out by GET /out',
    {},
  ],
  [
    'own-request',
    { session: 'session: { starts: at-first-visit }' },
    ['{ login: ann }', '{ send: POST /desk, from: "https://wreckers.example" }'],
    'POST /desk from another site starts a session in the place of that of ann',
    { session: 'session: { starts: with-a-form }' },
  ],
  [
    'new-id',
    {
      login: `${LOGIN}, renew-session-id: false }`,
      pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: everyone }')} }`,
    },
    ['{ login: ann }', '{ login: bo }'],
    'the session id that the browser had before the login of bo counts after it',
    { pages: `${PAGES.replace('/in: { for: guests }', '/in: { for: everyone }')} }` },
  ],
  [
    'honest-refresh',
    {
      ...BOTH,
      landing: 'landing: [{ otherwise: / }]',
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
      more: `${TOKENS.slice(0, -2)}, shared-refresh: false }`,
    },
    ['{ login: ann }', '{ wait: 5m }', '{ together: [GET /api/a, GET /api/b] }'],
    'refresh-1 was never in other hands, and is taken for stolen',
    {
      ...BOTH,
      landing: 'landing: [{ otherwise: / }]',
      login: `${LOGIN}, by: tokens }`,
      pages: `${PAGES}, /api/a: { for: clerk, kind: api }, /api/b: { for: clerk, kind: api } }`,
      more: TOKENS,
    },
  ],
  [
    'return-kept',
    { login: `${LOGIN.replace('return: {}', 'return: { accept: { listed: [/desk] } }')} }` },
    ['{ visit: /hall/ }', '{ login: ann }'],
    'ann asked for /hall/ and lands at /desk',
    { login: `${LOGIN.replace('return: {}', 'return: { accept: { listed: [/hall] } }')} }` },
  ],
  [
    'code-first',
    { pages: CODED(FACTOR, 'clerk'), more: CODE },
    ['{ login: ann }', '{ send: GET /api/v }'],
    'ann gets /api/v, the data of /vault, without a one-time code',
    { pages: CODED(FACTOR, FACTOR), more: CODE },
  ],
  [
    'code-first',
    { pages: CODED(FACTOR, 'clerk'), more: CODE },
    ['{ login: ann }', '{ send: GET /api/v }'],
    'ann gets /api/v, the data of /vault, without a one-time code',
    {
      pages: CODED(FACTOR, 'clerk').replace('/vault', '/list: { for: clerk, loads: [GET /api/v] }, /vault'),
      more: CODE,
    },
  ],
  [
    'promise-kept',
    { more: 'promises: [{ after: password-changed, copied: session, works-at-most: 10m }]' },
    ['{ login: ann }', '{ set-password: { as: ann, password: other } }', '{ wait: 10m }'],
    'a copy of the session cookie still counts 10m after the password was changed',
    { more: 'promises: [{ after: password-changed, copied: session, works-at-most: 8h }]' },
  ],
  [
    'promise-kept',
    { more: 'promises: [{ after: password-changed, access-lasts-at-most: 0s }]' },
    ['{ login: ann }', '{ set-password: { as: ann, password: other } }'],
    'a copy of the session cookie still counts after the password was changed',
    { more: 'promises: [{ after: suspended, access-lasts-at-most: 0s }]' },
  ],
  [
    'promise-kept',
    { ...BOTH, more: `${TOKENS}\npromises: [{ after: suspended, copied: access, works-at-most: 4m }]` },
    ['{ login: ann }', '{ suspend: ann }', '{ wait: 4m }'],
    'a copy of the access token still counts 4m after the account was suspended',
    { ...BOTH, more: `${TOKENS}\npromises: [{ after: suspended, copied: access, works-at-most: 5m }]` },
  ],
  [
    'right-audience',
    {
      ...BOTH,
      more: `${TOKENS}\npromises: [{ after: role-removed, copied: session, works-at-most: 5m }]`,
    },
    ['{ login: ann }', '{ set-roles: { as: ann, roles: [] } }', '{ send: GET /api/a }'],
    'ann is shown /api/a although the account may not see it any more',
    {
      ...BOTH,
      more: `${TOKENS}\npromises: [{ after: role-removed, copied: access, works-at-most: 5m }]`,
    },
  ],
  [
    'right-audience',
    {
      pages: `${PAGES}, /talk: { for: { none: [chief] } } }`,
      session: 'session: { roles: at-login }',
    },
    ['{ login: ann }', '{ set-roles: { as: ann, roles: [chief] } }', '{ visit: /talk }'],
    'ann is shown /talk although the account may not see it any more',
    { pages: `${PAGES}, /talk: { for: { none: [chief] } } }` },
  ],
  [
    'logout-final',
    {
      session: 'session: { kept: sealed, idle: 30m, absolute: 8h }',
      more: 'promises: [{ after: logout, copied: session, works-at-most: 1h }]',
    },
    [
      '{ login: ann }',
      '{ copy: { what: session, to: thief } }',
      '{ logout: }',
      '{ wait: 29m }',
      '{ visit: /desk, in: thief }',
      '{ wait: 29m }',
      '{ visit: /desk, in: thief }',
      '{ wait: 2m }',
    ],
    'a copy of the session cookie still counts 1h after the logout',
    {
      session: 'session: { kept: sealed, idle: 30m, absolute: 8h }',
      more: 'promises: [{ after: logout, copied: session, works-at-most: 8h }]',
    },
  ],
  [
    'logout-final',
    { logout: 'logout: { submit: POST /out, ends: [session] }', more: KEPT_KNOWN },
    [
      '{ login: { as: ann, remember: true } }',
      '{ copy: { what: remember, to: thief } }',
      '{ logout: }',
      '{ wait: 6h }',
      '{ visit: /desk, in: thief }',
      '{ wait: 6h }',
    ],
    'a copy of the remember cookie still counts 12h after the logout',
    { logout: 'logout: { submit: POST /out, ends: [session, remember] }', more: KEPT_KNOWN },
  ],
  [
    'promise-kept',
    { ...ROTATED, more: `${ROTATING}\npromises: [{ after: password-changed, access-lasts-at-most: 2h }]` },
    [
      '{ login: ann }',
      '{ set-password: { as: ann, password: other } }',
      '{ wait: 59m }',
      '{ send: GET /api/a }',
      '{ wait: 59m }',
      '{ send: GET /api/a }',
      '{ wait: 2m }',
    ],
    'the access token got for a copy of the refresh token still counts 2h after the password was changed',
    { ...ROTATED, more: `${ROTATING}\npromises: [{ after: password-changed, access-lasts-at-most: 11h }]` },
  ],
  [
    'password-final',
    { ...OWN_PASSWORD, more: 'password: { change: { page: /me, submit: POST /me }, own: keeps }' },
    ['{ login: ann }', '{ change-password: { new: b-2 } }'],
    'a copy of the session cookie still counts after the password was changed',
    { ...OWN_PASSWORD, more: 'password: { change: { page: /me, submit: POST /me } }' },
  ],
  [
    'password-final',
    { more: 'password: { ends: [remember] }' },
    ['{ login: ann }', '{ set-password: { as: ann, password: b-2 } }'],
    'a copy of the session cookie still counts after the password was changed',
    {
      more: 'password: { ends: [remember] }\npromises: [{ after: password-changed, copied: session, works-at-most: 8h }]',
    },
  ],
  [
    'password-final',
    { more: `password: { ${RESET}, ends: [session] }` },
    ['{ ask-reset: ann }', '{ set-password: { as: ann, password: b-2 } }'],
    'the link for a new password that was sent to ann before the password was changed is still good',
    { more: `password: { ${RESET} }` },
  ],
  [
    'own-login',
    { more: `${BY_LINK}, same-browser: false }` },
    ['{ ask-link: ann, in: thief }', '{ open-link: ann }'],
    'ann is signed in by a link that this browser did not ask for',
    { more: `${BY_LINK} }` },
  ],
  [
    'own-login',
    { more: `${PROVIDER}, state: ignored, pkce: false, nonce: absent } }` },
    ['{ plant-answer: { of: ann, with: port-id } }'],
    'a browser is signed in as ann by an answer of port-id that it did not ask for',
    { more: `${PROVIDER}, state: ignored, nonce: absent } }` },
  ],
  [
    'only-promised',
    { more: 'promises: [{ only: chief, reach: /desk }]' },
    ['{ login: ann }'],
    'ann is shown /desk, promised to chief only',
    { more: 'promises: [{ only: clerk, reach: /desk }]' },
  ],
  [
    'menu-honest',
    { more: 'menu: [{ to: /safe, text: Safe, for: clerk }]' },
    ['{ login: ann }'],
    'ann is shown the link to /safe and refused there',
    { more: 'menu: [{ to: /safe, text: Safe }]' },
  ],
  [
    'menu-honest',
    { more: 'menu: [{ to: /desk, text: Desk, for: chief }]' },
    ['{ login: ann }'],
    '/desk is open to ann, but not in their menu',
    { more: 'menu: [{ to: /desk, text: Desk }]' },
  ],
];

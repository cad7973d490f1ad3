import type { CASES, QUIET } from './cases';

const PEOPLE =
  'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] }, cy: { password: c-3 } }';
const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }';
const LOGINS = (front: string, staff: string, safe = '/safe: { for: [chief] }') => ({
  pages: `${PAGES.replace('/safe: { for: [chief] }, /hall: { for: signed-in }', safe)}, /staff: { for: guests } }`,
  login: `logins: { front: { page: /in, submit: POST /in, ${TRIES}${front} }, staff: { page: /staff, submit: POST /staff, ${TRIES}${staff} } }`,
});
const TO_STAFF = '/safe: { for: [chief], refusals: { guest: staff } }';
const KEEPERS = {
  roles: 'roles: { clerk: [], chief: [clerk], keeper: [] }',
  accounts: PEOPLE.replace('roles: [chief]', 'roles: [keeper]'),
  landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
};
const TRIES = 'attempts: { most: 5, within: 5m, pause: 5m }';

const PAGES_OF = `${PAGES}, /me: { for: signed-in }, /forgot: { for: guests }, /code: { for: guests } }`;
const RESET = 'reset: { page: /forgot, submit: POST /forgot, link: /reset/:token, life: 30m';
const BY_LINK = 'link-login: { page: /forgot, submit: POST /mail, link: /by/:token, life: 10m }';
const CODE = 'second-factor: { page: /code, submit: POST /code, life: 5m';
const passwords = (rules: string | null, more = '') => ({
  pages: PAGES_OF,
  more: `${rules === null ? '' : `password: { ${rules} }`}\n${more}`,
});

const providers = (rest: string) =>
  `identity-providers: { port-id: { issuer: https://id.example, start: GET /go, back: GET /go/back, knows: { ann: a@id.example }, ${rest} } }`;

/** Several logins, passwords, links and identity providers. */
export const LOGIN_CASES: typeof CASES = [
  [
    'account-without-login',
    LOGINS(', takes: clerk', ', takes: chief'),
    'no login takes the account cy',
    LOGINS('', ', takes: chief'),
  ],
  [
    'account-without-login',
    {
      accounts: PEOPLE.replace(', cy: { password: c-3 }', ''),
      ...LOGINS(', takes: clerk', ', takes: chief'),
      more: 'sign-up: { page: /in, submit: POST /up }',
    },
    'no login takes whoever has signed up',
    {
      accounts: PEOPLE.replace(', cy: { password: c-3 }', ''),
      ...LOGINS(', takes: clerk', ', takes: chief'),
      more: 'sign-up: { page: /in, submit: POST /up, roles: [clerk] }',
    },
  ],
  [
    'login-takes-others',
    { ...KEEPERS, ...LOGINS(', takes: [clerk]', '', '/safe: { for: [keeper] }') },
    '/safe is for the account bo, and sends guests to /in, which does not take them',
    { ...KEEPERS, ...LOGINS(', takes: [clerk]', '', '/safe: { for: [keeper], refusals: { guest: staff } }') },
  ],
  [
    'attempts-without-limit',
    { ...LOGINS('', ''), login: LOGINS('', '').login.replace(`/staff, ${TRIES}`, '/staff') },
    'the login staff takes any number of wrong passwords',
    LOGINS('', ''),
  ],
  [
    'return-address-careless',
    LOGINS('', ', return: { accept: anything }', TO_STAFF),
    'accept: anything takes the return address https://wreckers.example/, which leads to https://wreckers.example',
    LOGINS('', ', return: {}', TO_STAFF),
  ],
  [
    'password-change-without-old',
    passwords('change: { page: /me, submit: POST /me, asks-old: false }'),
    'a password can be changed without the old one',
    passwords('change: { page: /me, submit: POST /me }'),
  ],
  [
    'password-ends-too-little',
    passwords(`${RESET} }, ends: [remember]`),
    'a changed password leaves every other session cookie and every link that was sent before good',
    passwords(`${RESET} }, ends: [session, links]`),
  ],
  [
    'password-ends-too-little',
    passwords('change: { page: /me, submit: POST /me }, own: keeps'),
    'whoever has a copy of the session in which the password is changed keeps it',
    passwords('change: { page: /me, submit: POST /me }, own: ends'),
  ],
  [
    'link-lives-long',
    passwords(`${RESET.replace('30m', '3d')} }`),
    'the link for a new password is good for 3d',
    passwords(`${RESET} }`),
  ],
  [
    'link-lives-long',
    { ...passwords(null), more: BY_LINK.replace('10m', '2h') },
    'the link to log in by is good for 2h',
    { ...passwords(null), more: BY_LINK },
  ],
  [
    'link-skips-code',
    { ...passwords(`${RESET}, then: signed-in, code: given }`, `${CODE}, of: [chief] }`) },
    'the link for a new password lets the account bo in without the one-time code that they owe',
    passwords(`${RESET}, then: signed-in }`, `${CODE}, of: [chief] }`),
  ],
  [
    'link-tells-accounts',
    passwords(`${RESET}, tells: true }`),
    'the form at /forgot tells whether there is an account',
    passwords(`${RESET} }`),
  ],
  [
    'link-for-any-browser',
    { ...passwords(null), more: BY_LINK.replace(' }', ', same-browser: false }') },
    'a link to log in by signs in whatever browser it is opened in',
    { ...passwords(null), more: BY_LINK },
  ],
  [
    'provider-answer-unchecked',
    { more: providers('state: ignored, pkce: false, nonce: absent, logout: provider-too') },
    'an answer of port-id is taken that this browser never asked for',
    { more: providers('state: absent, logout: provider-too') },
  ],
  [
    'provider-answer-unchecked',
    { more: providers('pkce: false, nonce: ignored, logout: provider-too') },
    'a code of port-id that leaked signs in whoever stole it',
    { more: providers('pkce: false, logout: provider-too') },
  ],
  [
    'provider-matches-address',
    { more: providers('matches: address, asks-again: true') },
    'port-id signs people in to accounts by an address that nobody has confirmed',
    { more: providers('matches: confirmed-address, asks-again: true') },
  ],
  [
    'provider-outlives-logout',
    { more: providers('session: 8h') },
    'after the logout port-id still knows the browser, and one click signs in again',
    { more: providers('logout: provider-too') },
  ],
  [
    'provider-skips-code',
    passwords(null, `${providers('code: given, asks-again: true')}\n${CODE}, of: [chief] }`),
    'port-id lets the role chief in without the one-time code that they owe',
    passwords(null, `${providers('asks-again: true')}\n${CODE}, of: [chief] }`),
  ],
  [
    'way-closed-to-guests',
    {
      ...passwords(`${RESET} }`),
      pages: PAGES_OF.replace('/forgot: { for: guests }', '/forgot: { for: signed-in }'),
    },
    'the page where the link for a new password is asked for, /forgot is closed to guests, who have to use it',
    passwords(`${RESET} }`),
  ],
];

export const LOGIN_QUIET: typeof QUIET = [
  [
    'login-takes-others',
    'whom it does not take may be given the role that it takes',
    { ...LOGINS(', takes: clerk', ''), accounts: 'accounts: { cy: { password: c-3 } }' },
  ],
  [
    'return-address-unused',
    'a page of its own sends guests there',
    LOGINS(', return: {}', ', return: {}', TO_STAFF),
  ],
];

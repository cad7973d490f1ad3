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

/** Several logins. */
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

import type { CASES, QUIET } from './cases';

const PEOPLE = (more: string) =>
  `accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] }${more} }`;
const ED = ', ed: { password: e-5, roles: [keeper] }';
const BOT = PEOPLE(', bot: { key: true, roles: [clerk] }');
const machine = (rules: string) => ({ accounts: BOT, more: `api-keys: { ${rules} }` });
const acting = (of: string, rest = "life: 1h, not: ['/me/**']") =>
  `impersonation: { start: POST /as/:who, stop: POST /back, by: [chief], of: ${of}, ${rest} }`;
const KEEPER = {
  roles: 'roles: { clerk: [], chief: [clerk], keeper: [] }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /vault: { read: [clerk, keeper], write: [keeper] } }',
};
const SHUT = (rest: string) =>
  `flags: { shut: off }\nbarriers: [{ name: shut, stops: { flags: { shut: on }, none: [chief] }, answers: 503${rest} }]`;
const TERMS = (terms: string) => ({
  accounts:
    'accounts: { ann: { password: a-1, roles: [clerk], facts: { club: oak } }, bo: { password: b-2, roles: [chief] }, cy: { password: c-3 } }',
  pages: KEEPER.pages.replace('/vault: { read: [clerk, keeper], write: [keeper] }', `/terms: ${terms}`),
  more: 'barriers: [{ name: terms, stops: { facts: { club: oak } }, sends: /terms, lets: [/terms], api: 403 }]',
});
const PASSWORD = {
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /me/password: { for: signed-in } }',
};
const CHANGE = 'password: { change: { page: /me/password, submit: POST /me/password } }';

const CODED = 'second-factor: { page: /code, submit: POST /code, life: 5m, of: [keeper] }';

/** Machines with keys, and people who act for others. */
export const MACHINE_CASES: typeof CASES = [
  ['key-without-end', machine('overlap: 1d'), 'the keys of machines have no end', machine('life: 90d')],
  [
    'key-in-address',
    machine('life: 90d, sent: address'),
    'the keys of machines stand in addresses, as key',
    machine('life: 90d, sent: header'),
  ],
  [
    'barrier-without-way',
    TERMS('{ for: signed-in }'),
    'the barrier terms sends people to /terms, and no page gives them other club: nobody can pass',
    TERMS('{ for: signed-in, sets: { club: none } }'),
  ],
  [
    'barrier-shuts-out-exempt',
    { more: SHUT(', also: [login]') },
    'the barrier shut leaves bo alone, and stops them as a guest on the way to the login at /in',
    { more: SHUT(', also: [login], lets: [/in]') },
  ],
  [
    'acts-for-more',
    { ...KEEPER, accounts: PEOPLE(ED), more: acting('[clerk, keeper]') },
    'the role chief may act for the account ed, who may do more: POST /vault is closed to chief',
    { ...KEEPER, accounts: PEOPLE(ED), more: acting('[clerk, keeper]', 'not: /vault') },
  ],
  [
    'acts-for-more',
    {
      ...KEEPER,
      accounts: PEOPLE(`${ED}, di: { password: d-4, roles: [clerk, keeper] }`),
      more: acting('clerk'),
    },
    'the role chief may act for the account di, who may do more: POST /vault is closed to chief',
    { ...KEEPER, accounts: PEOPLE(`${ED}, di: { password: d-4, roles: [clerk] }`), more: acting('clerk') },
  ],
  [
    'acts-for-more',
    {
      ...KEEPER,
      roles: KEEPER.roles.replace('keeper: []', 'keeper: [chief]'),
      accounts: PEOPLE(ED),
      more: acting('[keeper]'),
    },
    'the role chief may act for the account ed, who may do more: POST /vault is closed to chief',
    { ...KEEPER, accounts: PEOPLE(ED), more: acting('[keeper]') },
  ],
  [
    'acts-for-more',
    {
      ...KEEPER,
      accounts: PEOPLE(ED),
      pages: `${KEEPER.pages.slice(0, -2)}, /code: { for: everyone } }`,
      more: `${acting('[keeper]')}\n${CODED}`,
    },
    'the role chief may act for the account ed, who may do more: POST /vault is closed to chief',
    { ...KEEPER, accounts: PEOPLE(ED), more: acting('[keeper]') },
  ],
  [
    'acting-outlives-logout',
    { accounts: PEOPLE(''), more: acting('clerk', 'kept: account') },
    'acting for somebody is noted with the account, and goes on after the logout',
    { accounts: PEOPLE(''), more: acting('clerk') },
  ],
  [
    'acting-outlives-logout',
    { accounts: PEOPLE(''), logout: 'logout: { submit: POST /out, ends: [] }', more: acting('clerk') },
    'the logout leaves the session good in which somebody acts for another',
    { accounts: PEOPLE(''), more: acting('clerk') },
  ],
  [
    'acting-reaches-password',
    { ...PASSWORD, accounts: PEOPLE(''), more: `${CHANGE}\n${acting('clerk', 'life: 1h')}` },
    'whoever acts for the account ann comes to GET /me/password, which changes the password',
    { ...PASSWORD, accounts: PEOPLE(''), more: `${CHANGE}\n${acting('clerk')}` },
  ],
  [
    'acting-reaches-password',
    {
      ...PASSWORD,
      accounts: PEOPLE(''),
      // The form is closed, and the request that it sends is not.
      more: `${CHANGE.replace('POST /me/password', 'POST /change')}\n${acting('clerk')}`,
    },
    'whoever acts for the account ann comes to POST /change, which changes the password',
    {
      ...PASSWORD,
      accounts: PEOPLE(''),
      more: `${CHANGE.replace('POST /me/password', 'POST /change')}\n${acting('clerk', 'not: [/me/password, /change]')}`,
    },
  ],
];

export const MACHINE_QUIET: typeof QUIET = [
  [
    'write-looser-than-read',
    'a teacher writes what only the pupil reads',
    {
      pages: KEEPER.pages.replace(
        '/vault: { read: [clerk, keeper], write: [keeper] }',
        '/of/:who: { read: { account: who }, write: [chief] }',
      ),
    },
  ],
  [
    'acts-for-more',
    'what everybody is given who signs up is no more than anybody has',
    {
      ...KEEPER,
      accounts: PEOPLE(''),
      more: `${acting('keeper')}\nsign-up: { page: /in, submit: POST /up, roles: [keeper] }`,
    },
  ],
  [
    'acts-for-more',
    'what is their own by its path is what they are helped with',
    {
      ...KEEPER,
      accounts: PEOPLE(''),
      pages: KEEPER.pages.replace(
        '/vault: { read: [clerk, keeper], write: [keeper] }',
        '/of/:who: { for: { account: who } }',
      ),
      more: acting('[clerk, keeper]'),
    },
  ],
  [
    'acting-reaches-password',
    'those for whom others act may not change it there',
    {
      roles: KEEPER.roles,
      pages: PASSWORD.pages.replace('/me/password: { for: signed-in }', '/me/password: { for: [keeper] }'),
      accounts: PEOPLE(ED),
      more: `${CHANGE}\n${acting('clerk', 'life: 1h')}`,
    },
  ],
  [
    'landing-refused',
    'a machine lands nowhere',
    {
      accounts: PEOPLE(', bot: { key: true, roles: [] }'),
      landing: 'landing: [{ role: chief, to: /safe }, { otherwise: /desk }]',
      more: 'api-keys: { life: 90d }',
    },
  ],
];

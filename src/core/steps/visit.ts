import { address } from './step-schemas.js';
import { personStep } from './step-kind.js';
import { checkAddress } from './walk-scope.js';
import { one } from './typed-form.js';

/** Opens an address by hand; with `from` by a link on another site. */
export interface Visit {
  readonly verb: 'visit';
  readonly address: string;
  readonly from: string | null;
}

export const visit = personStep<Visit, string>({
  verb: 'visit',
  row: [
    '`visit: /berths`',
    'types an address, of the app or a whole URL; with `from: https://mail.example` beside it, follows a link on another site',
  ],
  typed: one('visit /berths', 'page'),
  traits: ['goes-elsewhere', 'no-login', 'on-the-way'],
  tale: ({ address }) => ({
    deed: `visits ${address}`,
    keeps: 'keeps visiting',
    still: `is still let in at ${address}`,
  }),
  request: ({ address, from }) => ({ method: 'GET', address, from, key: null, isOpened: true }),
  schema: () => address,
  takesFrom: true,
  read: (written, at, scope, from) => ({ verb: 'visit', address: checkAddress(written, at, scope), from }),
  deed: (_stage, _here, action) => ({
    deed: 'open',
    address: action.address,
    ...(action.from === null ? {} : { from: action.from }),
  }),
  words: (action) => `visit ${action.address}${action.from === null ? '' : ` from ${action.from}`}`,
  written: (action) => action.address,
});

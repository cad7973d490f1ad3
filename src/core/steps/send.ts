import { requestLine } from '../language/access-schema.js';
import type { Method } from '../http/messages.js';
import { requestDeed } from '../play/stage.js';
import { personStep } from './step-kind.js';
import { checkAddress } from './walk-scope.js';

/** Sends a form to a page or makes a call to an api; with `from` the form stands on another site. */
export interface Send {
  readonly verb: 'send';
  readonly method: Method;
  readonly address: string;
  readonly from: string | null;
}

export const send = personStep<Send, { method: Method; target: string }>({
  verb: 'send',
  row: [
    '`send: POST /berths`',
    'sends a form to a page; to an address of `kind: api` it is a call by script in the current page. With `from:` the form stands on another site. It carries the token of the page in front, or of the last one in the tab that had one',
  ],
  schema: () => requestLine,
  takesFrom: true,
  read: ({ method, target }, at, scope, from) => ({
    verb: 'send',
    method,
    address: checkAddress(target, at, scope),
    from,
  }),
  deed(stage, _here, { method, address, from }) {
    const deed = requestDeed(stage, method, address);
    return deed.deed === 'call' && from === null
      ? deed
      : { deed: 'submit', method, address, fromOtherSite: from !== null };
  },
  words: ({ method, address, from }) => `send ${method} ${address}${from === null ? '' : ` from ${from}`}`,
  written: ({ method, address }) => `${method} ${address}`,
});

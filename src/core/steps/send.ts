import * as z from 'zod';
import { handle, type AppState } from '../app/app.js';
import { keyOf } from '../app/keys.js';
import { resolveAddress, withParameter } from '../http/address.js';
import { NO_FIELDS, type HttpRequest, type Method } from '../http/messages.js';
import { requestLine } from '../language/access-schema.js';
import { problem } from '../language/text/problems.js';
import { flag, section, text } from '../language/text/schema-parts.js';
import { answerTo, requestDeed, type Exchange, type Stage } from '../play/stage.js';
import { atRest, personStep, type MachineKey, type PersonStep } from './step-kind.js';
import { checkAddress, checkKey } from './walk-scope.js';
import { NAME, present } from './typed-form.js';

/** Sends a form to a page or makes a call to an api; with `from` the form stands on another site, with a key a machine makes it. */
export interface Send {
  readonly verb: 'send';
  readonly method: Method;
  readonly address: string;
  readonly from: string | null;
  /** The machine that makes the request, without a browser; left out for a person. */
  readonly key?: MachineKey;
}

type RequestText = { method: Method; target: string };
type Written = RequestText | { request: RequestText; key: string; old?: boolean | undefined };

const byPerson = personStep<Send, Written>({
  verb: 'send',
  row: [
    '`send: POST /berths` or `{ request: GET /api/berths, key: crane, old: true }`',
    'sends a form to a page; to an address of `kind: api` it is a call by script in the current page. With `from:` the form stands on another site. It carries the token of the page in front, or of the last one in the tab that had one. With `key` a machine makes the request, without a browser and without following redirects; `old` is the key from before its last rotation',
  ],
  typed: {
    usage: 'send POST /berths, or send GET /api/berths by the key of crane',
    form: new RegExp(`^(?<request>[A-Z]+ ${NAME})(?: by the (?<old>old )?key of (?<key>${NAME}))?$`),
    written: ({ request, key, old }) =>
      key === undefined ? request : present({ request, key, old: old === undefined ? undefined : true }),
    places: [['method'], ['page'], ['=by'], ['=the'], ['=key', '=old'], ['=of', '=key'], ['machine']],
  },
  traits: ['goes-elsewhere', 'no-login', 'on-the-way', 'on-page'],
  tale: ({ method, address }) => ({
    deed: `sends ${method} ${address}`,
    keeps: 'keeps sending requests',
    still: `still gets an answer to ${method} ${address}`,
  }),
  request: ({ method, address, from, key }) => ({ method, address, from, key: key ?? null, isOpened: false }),
  schema: () =>
    z.union(
      [
        requestLine,
        section('a send step', {
          request: requestLine,
          key: text('the account of a machine'),
          old: flag.optional(),
        }),
      ],
      { error: 'a request such as POST /berths, or { request: GET /api/berths, key: crane }' },
    ),
  takesFrom: true,
  read(written, at, scope, from) {
    if (!('request' in written)) {
      const { method, target } = written;
      return { verb: 'send', method, address: checkAddress(target, at, scope), from };
    }
    const { request, key: account, old: isOld = false } = written;
    checkKey(account, [...at, 'key'], scope);
    if (from !== null) {
      const says = 'a machine is on no site: leave from out';
      scope.report(
        problem('bad-value', { problem: says }, scope.input.placeOf([...at.slice(0, -1), 'from'])),
      );
    }
    const address = checkAddress(request.target, [...at, 'request'], scope);
    return { verb: 'send', method: request.method, address, from: null, key: { account, isOld } };
  },
  deed(stage, _here, { method, address, from, key }) {
    if (key !== undefined) return 'a machine has no browser';
    const deed = requestDeed(stage, method, address);
    return deed.deed === 'call' && from === null
      ? deed
      : { deed: 'submit', method, address, ...(from === null ? {} : { from }) };
  },
  words({ method, address, from, key }) {
    const by = key === undefined ? '' : ` by the ${key.isOld ? 'old ' : ''}key of ${key.account}`;
    return `send ${method} ${address}${by}${from === null ? '' : ` from ${from}`}`;
  },
  written({ method, address, key }) {
    const request = `${method} ${address}`;
    return key === undefined ? request : { request, key: key.account, ...(key.isOld ? { old: true } : {}) };
  },
});

export const send: PersonStep<Send, Written> = {
  ...byPerson,
  play(stage, here, action) {
    const { key } = action;
    if (key === undefined) return byPerson.play(stage, here, action);
    const { state, browser, clock } = here;
    const request = requestByKey(stage, state, { ...action, key }, browser.client);
    if (typeof request === 'string') return request;
    const answer = answerTo(stage, state, request, clock);
    const exchange: Exchange = { purpose: 'machine', request, ...answer };
    return { played: { ...atRest(answer.state, browser), exchanges: [exchange] }, given: null };
  },
};

/** The request of a machine, with its key where the app looks for it; or why it cannot make one. */
function requestByKey(
  { app: { policy }, client }: Stage,
  state: AppState,
  { method, address, key: { account, isOld } }: Send & { readonly key: MachineKey },
  from: string,
): HttpRequest | string {
  const rules = policy.apiKeys;
  const index = keyOf(state, account, isOld);
  if (rules === null || index < 0) return `the key of ${account} was never rotated`;
  const to = resolveAddress(address, { origin: client.origin, path: '/', query: '' });
  if (to === null || !client.origins.has(to.origin)) return `${address} is not of the app`;
  const { sent, name } = rules;
  const shown = handle('key', index);
  return {
    method,
    origin: to.origin,
    path: to.path,
    query: sent === 'address' ? withParameter(to.query, name, shown) : to.query,
    cookie: '',
    authorization: sent === 'bearer' ? `Bearer ${shown}` : '',
    apiKey: sent === 'header' ? shown : '',
    accept: 'application/json',
    referer: '',
    client: from,
    crossOrigin: false,
    form: NO_FIELDS,
  };
}

import * as z from 'zod';
import { requestLine } from '../language/access-schema.js';
import { choice, section } from '../language/text/schema-parts.js';
import type { Method } from '../http/messages.js';
import { playTogether, type Calling } from '../play/together.js';
import type { BrowserState } from '../browser/state.js';
import type { StepKind } from './step-kind.js';
import { checkAddress } from './walk-scope.js';
import { listed } from './typed-form.js';

/** Calls that script makes at the same time. */
export interface Together {
  readonly verb: 'together';
  readonly calls: readonly Calling[];
}

/** A request in flight. */
export interface RequestText {
  method: Method;
  target: string;
}
type Written = (RequestText | { send: RequestText; tab: Calling['tab'] })[];

export const together: StepKind<Together, Written> = {
  verb: 'together',
  row: [
    '`together: [GET /api/a, GET /api/b]`',
    'two or three calls by script at the same time, in every order in which they can arrive; the worst is told. `{ send: GET /api/b, tab: behind }` is one made by the tab behind',
  ],
  typed: {
    usage: 'together GET /api/a, GET /api/b',
    form: /^(?<calls>\S.*)$/,
    written: ({ calls }) =>
      listed(calls).map((call) => {
        const isBehind = call.endsWith(BEHIND);
        return isBehind ? { send: call.slice(0, -BEHIND.length), tab: 'behind' } : call;
      }),
    places: [['method'], ['page'], ['method'], ['page']],
  },
  traits: ['goes-elsewhere'],
  calls: ({ calls }) => calls,
  isWorthTrying: ({ calls }, browser) =>
    mayRenew(browser) && (calls[1]?.tab !== 'behind' || browser.behind.length > 0),
  schema() {
    const inFlight = z.union(
      [requestLine, section('a request in flight', { send: requestLine, tab: choice(['front', 'behind']) })],
      { error: 'a request such as GET /api/ledger, or { send: GET /api/ledger, tab: behind }' },
    );
    return z
      .array(inFlight, { error: 'a list of requests such as GET /api/ledger' })
      .min(2, { error: 'together takes two or three requests' })
      .max(3, {
        error:
          'together takes two or three requests: with more, the orders in which they can arrive are too many',
      });
  },
  read(written, at, scope) {
    const calls = written.map((item, index) => {
      const { send, tab } = 'send' in item ? item : ({ send: item, tab: 'front' } as const);
      const place = [...at, index, ...('send' in item ? ['send'] : [])];
      return { method: send.method, address: checkAddress(send.target, place, scope), tab };
    });
    return { verb: 'together', calls };
  },
  by: 'person',
  play(stage, { state, browser, clock }, { calls }) {
    const needsTwo = calls.some(({ tab }) => tab === 'behind');
    if (needsTwo && browser.behind.length === 0) return 'there is no tab behind: new-tab opens one';
    return { played: playTogether(stage, state, browser, calls, clock), given: null };
  },
  words: ({ calls }) => `together ${calls.map(callWords).join(', ')}`,
  written: ({ calls }) =>
    calls.map(({ method, address, tab }) => {
      const send = `${method} ${address}`;
      return tab === 'behind' ? { send, tab } : send;
    }),
};

function callWords({ method, address, tab }: Calling): string {
  return `${method} ${address}${tab === 'behind' ? BEHIND : ''}`;
}

/** Without tokens nothing is renewed: calls at the same time come to no more than one by one. */
function mayRenew({ tab, behind }: BrowserState): boolean {
  return [tab, ...behind].some(({ tokens }) => tokens !== null);
}

const BEHIND = ' in the tab behind';

import { createApp, type App, type AppState } from '../app/app.js';
import { begin, receive } from '../browser/browser.js';
import { clientOf, type Client } from '../browser/client.js';
import type { BrowserState, Deed, Purpose, Turn } from '../browser/state.js';
import { respondTo, type Decided } from '../app/respond-to.js';
import { providerAt, respondAsProvider } from '../provider/provider.js';
import type { Explanation } from '../app/answer.js';
import type { Identity } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import type { Route } from '../app/router.js';
import type { Clock } from '../time/clock.js';
import type { HttpRequest, HttpResponse, Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';

/** A policy put to work: its app half and what its pages make of a browser. */
export interface Stage {
  readonly app: App;
  readonly client: Client;
}

/** One request with its answer, and what the app made of it. */
export interface Exchange {
  /** What became of it in the browser; `machine` where no browser made it. */
  readonly purpose: Purpose['kind'] | 'machine';
  readonly request: HttpRequest;
  readonly response: HttpResponse;
  readonly explanation: Explanation;
  /** Whom the app took the visitor for, and what the policy says of the address. */
  readonly visitor: Identity;
  readonly route: Route | null;
}

/** A request as it was answered, in a form that can be written down and compared. */
export interface Answered {
  readonly method: Method;
  /** Path and query. */
  readonly target: string;
  readonly status: number;
  readonly location: string | null;
  /** An account's name or `guest`. */
  readonly seenAs: string;
  /** Who acts for that account; null where nobody does. */
  readonly actedBy: string | null;
  readonly why: Reason;
}

/** Tells how a request was answered. */
export function answered({
  request,
  response,
  explanation,
}: Pick<Exchange, 'request' | 'response' | 'explanation'>): Answered {
  return {
    method: request.method,
    target: request.path + request.query,
    status: response.status,
    location: response.location,
    seenAs: explanation.seenAs ?? 'guest',
    actedBy: explanation.actedBy ?? null,
    why: explanation.reason,
  };
}

/** What came of a deed. */
export interface Played {
  readonly state: AppState;
  readonly browser: BrowserState;
  readonly exchanges: readonly Exchange[];
  readonly cutShort: Turn['cutShort'];
  readonly refusedCookies: readonly string[];
  /** Why script in a page turned the visitor away first; null where it did not. */
  readonly refusedByScript: Turn['refusedByScript'];
}

/** Puts a policy to work. */
export function stageOf(policy: Policy): Stage {
  const app = createApp(policy);
  return { app, client: clientOf(app) };
}

/**
 * Lets a browser do something and carries its messages to the app and back until it is at rest. It always comes to rest:
 * redirects, refreshes and repeats are counted by the browser.
 */
export function play(stage: Stage, state: AppState, browser: BrowserState, deed: Deed, clock: Clock): Played {
  const exchanges: Exchange[] = [];
  let refusedCookies = NONE;
  let after = state;
  let turn = begin(stage.client, browser, deed, clock);
  let { refusedByScript } = turn;
  while (turn.flight !== null) {
    const { flight } = turn;
    const { request } = flight;
    const answer = answerTo(stage, after, request, clock);
    after = answer.state;
    const { response, explanation, visitor, route } = answer;
    exchanges.push({ purpose: flight.purpose.kind, request, response, explanation, visitor, route });
    turn = receive(stage.client, turn.browser, flight, response, clock);
    refusedByScript ??= turn.refusedByScript;
    if (turn.refusedCookies.length > 0) refusedCookies = [...refusedCookies, ...turn.refusedCookies];
  }
  const { browser: left, cutShort } = turn;
  return { state: after, browser: left, exchanges, cutShort, refusedCookies, refusedByScript };
}

/** Lets whoever a request goes to answer it: the app, or an identity provider. */
export function answerTo(
  { app }: Pick<Stage, 'app'>,
  state: AppState,
  request: HttpRequest,
  clock: Clock,
): Decided {
  const provider = providerAt(app.policy, request.origin);
  return provider === undefined
    ? respondTo(app, state, request, clock)
    : respondAsProvider(app.policy, provider, state, request, clock);
}

const NONE: readonly string[] = [];

/** What makes a request: an api is called by script in the page, a page is opened, anything else is a form that is sent. */
export function requestDeed(stage: Stage, method: Method, address: string): Deed {
  const [path = ''] = address.split('?', 1);
  if (stage.app.router.find(method, path)?.kind === 'api') return { deed: 'call', method, address };
  return method === 'GET' ? { deed: 'open', address } : { deed: 'submit', method, address };
}

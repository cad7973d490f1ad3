import type { AppState } from '../app/app.js';
import { respondTo } from '../app/respond-to.js';
import { receive } from '../browser/browser.js';
import { sendCall, startCall } from '../browser/calls.js';
import { within } from '../browser/navigation.js';
import type { BrowserState, Call, Flight, Turn } from '../browser/state.js';
import type { Clock } from '../clock.js';
import type { Method } from '../http/messages.js';
import type { Exchange, Played, Stage } from './stage.js';

/** A call that script makes. */
export interface Calling {
  readonly method: Method;
  readonly address: string;
}

/** One of several calls in flight: what it sends next, or that it waits for the refresh of another. */
type Thread =
  | { readonly is: 'sending'; readonly flight: Flight }
  | { readonly is: 'waiting'; readonly call: Call }
  | { readonly is: 'done' };

interface Situation {
  readonly state: AppState;
  readonly browser: BrowserState;
  readonly threads: readonly Thread[];
  readonly exchanges: readonly Exchange[];
  readonly cutShort: Turn['cutShort'];
  readonly refusedCookies: readonly string[];
}

/**
 * Makes calls at the same time, in every order in which they can arrive, and gives the order that ends worst: the tokens
 * are lost, more calls fail, or more is refreshed than in any other.
 */
export function playTogether(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  calls: readonly Calling[],
  clock: Clock,
): Played {
  const start: Situation = {
    state,
    browser,
    threads: startAll(stage, browser, calls, clock),
    exchanges: [],
    cutShort: null,
    refusedCookies: [],
  };
  let worst: Situation | null = null;
  const open = [start];
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    const ready = here.threads.flatMap((thread, index) => (thread.is === 'sending' ? [index] : []));
    if (ready.length === 0) {
      if (worst === null || badness(browser, here) >= badness(browser, worst)) worst = here;
      continue;
    }
    // The last put is the first taken, so the order in which the calls are written comes last and wins a tie.
    for (const index of [...ready].reverse()) open.push(arrive(stage, here, index, clock));
  }
  const end = worst ?? start;
  return {
    state: end.state,
    browser: end.browser,
    exchanges: end.exchanges,
    cutShort: end.cutShort,
    refusedCookies: end.refusedCookies,
    refusedByScript: null,
  };
}

function startAll(
  { client }: Stage,
  browser: BrowserState,
  calls: readonly Calling[],
  clock: Clock,
): Thread[] {
  let refreshing = false;
  return calls.map(({ method, address }) => {
    const turn = startCall(client, browser, method, within(client, address), clock);
    const { flight } = turn;
    if (flight === null) return { is: 'done' };
    if (flight.purpose.kind === 'refresh' && client.tokens?.sharedRefresh === true) {
      if (refreshing) return { is: 'waiting', call: flight.purpose.call };
      refreshing = true;
    }
    return { is: 'sending', flight };
  });
}

/** Lets the request of one thread arrive, and its response come back. */
function arrive(stage: Stage, here: Situation, index: number, clock: Clock): Situation {
  const thread = here.threads[index];
  if (thread?.is !== 'sending') return here;
  const { flight } = thread;
  const { request, purpose } = flight;
  const answer = respondTo(stage.app, here.state, request, clock);
  const { response, explanation, visitor, route } = answer;
  const exchange = { purpose: purpose.kind, request, response, explanation, visitor, route };
  const turn = shared(stage, here, index, flight, answer.response.status, clock);
  const after = turn ?? receive(stage.client, here.browser, flight, response, clock);
  const threads = here.threads.with(index, threadOf(after, turn));
  const settled =
    purpose.kind === 'refresh' && stage.client.tokens?.sharedRefresh === true
      ? wake(stage, after.browser, threads, index, clock)
      : threads;
  return {
    state: answer.state,
    browser: after.browser,
    threads: settled,
    exchanges: [...here.exchanges, exchange],
    cutShort: here.cutShort ?? after.cutShort,
    refusedCookies: [...here.refusedCookies, ...after.refusedCookies],
  };
}

type Waiting = Turn & { readonly waitsWith?: Call };

function threadOf(turn: Turn, own: Waiting | null): Thread {
  if (own?.waitsWith !== undefined) return { is: 'waiting', call: own.waitsWith };
  return turn.flight === null ? { is: 'done' } : { is: 'sending', flight: turn.flight };
}

/**
 * Where a refresh is shared, what a 401 means for a call whose token another has already changed, or is changing: it is
 * sent again with the new one. Null where the call is to do as any other.
 */
function shared(
  { client }: Stage,
  { browser, threads }: Situation,
  index: number,
  { request, purpose }: Flight,
  status: number,
  clock: Clock,
): Waiting | null {
  if (purpose.kind !== 'call' || status !== 401 || client.tokens?.sharedRefresh !== true) return null;
  const { tokens } = browser.tab;
  if (tokens === null || purpose.call.refreshed) return null;
  const call = { ...purpose.call, refreshed: true };
  const busy = threads.some(
    (thread, at) => at !== index && thread.is === 'sending' && thread.flight.purpose.kind === 'refresh',
  );
  if (busy) {
    const still = { browser, flight: null, cutShort: null, refusedCookies: [], refusedByScript: null };
    return { ...still, waitsWith: call };
  }
  const changed = request.authorization !== '' && request.authorization !== `Bearer ${tokens.access}`;
  return changed ? sendCall(client, browser, call, clock) : null;
}

/** The refresh that others waited for is over: they go on with the new token, or have nothing to go on with. */
function wake(
  { client }: Stage,
  browser: BrowserState,
  threads: readonly Thread[],
  index: number,
  clock: Clock,
): Thread[] {
  return threads.map((thread, at) => {
    if (at === index || thread.is !== 'waiting') return thread;
    if (browser.tab.tokens === null) return { is: 'done' };
    const { flight } = sendCall(client, browser, thread.call, clock);
    return flight === null ? { is: 'done' } : { is: 'sending', flight };
  });
}

/** How bad an end is: tokens lost before calls failed before refreshes made. */
function badness(before: BrowserState, { browser, exchanges }: Situation): number {
  const lost = before.tab.tokens !== null && browser.tab.tokens === null;
  const last = new Map(
    exchanges
      .filter(({ purpose }) => purpose === 'call')
      .map(({ request, response }) => [`${request.method} ${request.path}${request.query}`, response.status]),
  );
  const failed = [...last.values()].filter((status) => status >= 400).length;
  const refreshes = exchanges.filter(({ purpose }) => purpose === 'refresh').length;
  return (lost ? 10_000 : 0) + failed * 100 + refreshes;
}

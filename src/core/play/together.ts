import type { AppState } from '../app/app.js';
import { receive } from '../browser/browser.js';
import { hasSameTokens, sendCall, startCall } from '../browser/calls.js';
import { within } from '../browser/navigation.js';
import { isStorageShared, turnedOver } from '../browser/tabs.js';
import type { BrowserState, Call, Flight, Turn } from '../browser/state.js';
import type { Clock } from '../time/clock.js';
import type { Method } from '../http/messages.js';
import { refreshesIn } from './refreshes.js';
import { answerTo, type Exchange, type Played, type Stage } from './stage.js';

/** A call that script makes, in the tab in front or the one behind it. */
export interface Calling {
  readonly method: Method;
  readonly address: string;
  readonly tab: 'front' | 'behind';
}

/** One of several calls: what it sends next, or that it waits for the refresh of another. */
type Thread =
  | { readonly is: 'sending'; readonly tab: Calling['tab']; readonly flight: Flight }
  | { readonly is: 'waiting'; readonly tab: Calling['tab']; readonly call: Call }
  | { readonly is: 'done'; readonly tab: Calling['tab'] };

interface Situation {
  readonly state: AppState;
  readonly browser: BrowserState;
  /** Whether two tabs wait for each other's refresh. */
  readonly tabsShare: boolean;
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
  const tabsShare = tabsShareIn(stage, browser);
  const start: Situation = {
    state,
    browser,
    tabsShare,
    threads: startAll(stage, browser, tabsShare, calls, clock),
    exchanges: [],
    cutShort: null,
    refusedCookies: [],
  };
  let worst: Situation | null = null;
  const met = new MetSituations();
  const open = [start];
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    if (met.has(here)) continue;
    const ready = here.threads.flatMap((thread, index) => (thread.is === 'sending' ? [index] : []));
    if (ready.length === 0) {
      if (worst === null || badness(stage, browser, here) >= badness(stage, browser, worst)) worst = here;
      continue;
    }
    // The last put is the first taken, and of ends that are as bad the last wins.
    for (const index of [...ready].reverse()) {
      // Of two that are at the same, one need not be tried first: the one that would lose a tie.
      const isTwin = ready.some(
        (other) => other > index && areTwins(here.threads[other], here.threads[index]),
      );
      if (!isTwin) open.push(arrive(stage, here, index, clock));
    }
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

/** So few situations are looked at sooner than they are compared. */
const FEW = 64;

/**
 * The situations that were looked at. Whatever orders lead to one, what follows is the same: so orders count only as far as
 * they differ in what the calls share, and redirects do not multiply them.
 */
class MetSituations {
  private looked = 0;
  private readonly keys = new Set<string>();
  private readonly texts = new WeakMap<object, string>();

  /** Whether a situation was looked at before; from now on it was. */
  has(situation: Situation): boolean {
    this.looked += 1;
    if (this.looked <= FEW) return false;
    const { state, browser, threads, cutShort } = situation;
    const { last, refreshes } = toldBy(situation);
    const ends = JSON.stringify([[...last].sort(), refreshes, cutShort]);
    const key = [state, browser, ...threads].map((part) => this.textOf(part)).join(' ') + ends;
    if (this.keys.has(key)) return true;
    this.keys.add(key);
    return false;
  }

  private textOf(part: object): string {
    let text = this.texts.get(part);
    if (text === undefined) {
      text = JSON.stringify(part, (_name, value: unknown) =>
        value instanceof Map || value instanceof Set ? Array.from<unknown>(value) : value,
      );
      this.texts.set(part, text);
    }
    return text;
  }
}

/** Whether two calls of one tab have come equally far and are about to send the same. */
function areTwins(one: Thread | undefined, other: Thread | undefined): boolean {
  if (one?.is !== 'sending' || other?.is !== 'sending' || one.tab !== other.tab) return false;
  const [{ request: sent, purpose }, { request: same, purpose: of }] = [one.flight, other.flight];
  const isRefreshed = (each: Flight['purpose']) => each.kind === 'call' && each.call.refreshed;
  return (
    purpose.kind === of.kind &&
    isRefreshed(purpose) === isRefreshed(of) &&
    one.flight.redirects === other.flight.redirects &&
    sent.method === same.method &&
    sent.path === same.path &&
    sent.query === same.query &&
    sent.cookie === same.cookie &&
    sent.authorization === same.authorization &&
    sent.form.get('refresh_token') === same.form.get('refresh_token')
  );
}

function startAll(
  stage: Stage,
  browser: BrowserState,
  tabsShare: boolean,
  calls: readonly Calling[],
  clock: Clock,
): readonly Thread[] {
  const { client } = stage;
  let threads: readonly Thread[] = [];
  for (const { method, address, tab } of calls) {
    const { flight } = startCall(
      client,
      seenFrom(stage, browser, tab),
      method,
      within(client, address),
      clock,
    );
    const purpose = flight?.purpose;
    const waits = purpose?.kind === 'refresh' && isRefreshing(stage, tabsShare, threads, tab);
    threads = [
      ...threads,
      waits && purpose.call !== null ? { is: 'waiting', tab, call: purpose.call } : going(tab, flight),
    ];
  }
  return threads;
}

function going(tab: Calling['tab'], flight: Flight | null): Thread {
  return flight === null ? { is: 'done', tab } : { is: 'sending', tab, flight };
}

/** The browser as a tab of it is: with that tab in front. Done again, it is as before. */
function seenFrom({ client }: Stage, browser: BrowserState, tab: Calling['tab']): BrowserState {
  return tab === 'front' ? browser : turnedOver(client, browser);
}

/** Whether requests of the tab in front and the one behind it wait for each other's refresh. */
function tabsShareIn({ client }: Stage, browser: BrowserState): boolean {
  const below = browser.behind.at(-1);
  if (below !== undefined && hasSameTokens(client, browser.tab, below)) return true;
  return client.tokens?.sharedRefresh === true && isStorageShared(client);
}

/** Whether requests of two tabs, or of one, wait for each other's refresh while it is under way. */
function sharesRefresh(
  { client }: Stage,
  tabsShare: boolean,
  one: Calling['tab'],
  other: Calling['tab'],
): boolean {
  return one === other ? (client.tokens?.sharedRefresh ?? false) !== false : tabsShare;
}

/** Whether a refresh is under way that a request of a tab can wait for. */
function isRefreshing(
  stage: Stage,
  tabsShare: boolean,
  threads: readonly Thread[],
  tab: Calling['tab'],
): boolean {
  return threads.some(
    (thread) =>
      thread.is === 'sending' &&
      thread.flight.purpose.kind === 'refresh' &&
      sharesRefresh(stage, tabsShare, thread.tab, tab),
  );
}

/** Lets the request of one thread arrive, and its response come back. */
function arrive(stage: Stage, here: Situation, index: number, clock: Clock): Situation {
  const thread = here.threads[index];
  if (thread?.is !== 'sending') return here;
  const { flight, tab } = thread;
  const { request, purpose } = flight;
  const answer = answerTo(stage, here.state, request, clock);
  const { response, explanation, visitor, route } = answer;
  const exchange = { purpose: purpose.kind, request, response, explanation, visitor, route };
  const browser = seenFrom(stage, here.browser, tab);
  const others = here.threads.filter((_, at) => at !== index);
  const turn = shared(stage, browser, { ...here, threads: others }, thread, response.status, clock);
  const after = turn ?? receive(stage.client, browser, flight, response, clock);
  const left = seenFrom(stage, after.browser, tab);
  const next: Thread =
    turn?.waitsWith === undefined ? going(tab, after.flight) : { is: 'waiting', tab, call: turn.waitsWith };
  const threads = here.threads.with(index, next);
  return {
    state: answer.state,
    browser: left,
    tabsShare: here.tabsShare,
    threads: purpose.kind === 'refresh' ? wake(stage, left, { ...here, threads }, tab, clock) : threads,
    exchanges: [...here.exchanges, exchange],
    cutShort: here.cutShort ?? after.cutShort,
    refusedCookies: [...here.refusedCookies, ...after.refusedCookies],
  };
}

type Waiting = Turn & { readonly waitsWith?: Call };

/**
 * Where a refresh is shared, what a 401 means for a call whose token another has already changed, or is changing: it is
 * sent again with the new one. Null where the call is to do as any other.
 */
function shared(
  stage: Stage,
  browser: BrowserState,
  { threads: others, tabsShare }: Pick<Situation, 'threads' | 'tabsShare'>,
  { flight: { request, purpose }, tab }: Extract<Thread, { is: 'sending' }>,
  status: number,
  clock: Clock,
): Waiting | null {
  if (purpose.kind !== 'call' || status !== 401 || !sharesRefresh(stage, tabsShare, tab, tab)) return null;
  const { tokens } = browser.tab;
  if (tokens === null || purpose.call.refreshed) return null;
  const call = { ...purpose.call, refreshed: true };
  if (isRefreshing(stage, tabsShare, others, tab)) {
    const still = { browser, flight: null, cutShort: null, refusedCookies: [], refusedByScript: null };
    return { ...still, waitsWith: call };
  }
  // What knows only of the refresh under way does not look whether the token is another by now.
  const compares = stage.client.tokens?.sharedRefresh !== 'until-settled';
  const changed = request.authorization !== '' && request.authorization !== `Bearer ${tokens.access}`;
  return compares && changed ? sendCall(stage.client, browser, call, clock) : null;
}

/** The refresh that others waited for is over: they go on with the new token, or have nothing to go on with. */
function wake(
  stage: Stage,
  browser: BrowserState,
  { threads, tabsShare }: Pick<Situation, 'threads' | 'tabsShare'>,
  tab: Calling['tab'],
  clock: Clock,
): Thread[] {
  return threads.map((thread) => {
    if (thread.is !== 'waiting' || !sharesRefresh(stage, tabsShare, thread.tab, tab)) return thread;
    const own = seenFrom(stage, browser, thread.tab);
    if (own.tab.tokens === null) return { is: 'done', tab: thread.tab };
    const { flight } = sendCall(stage.client, own, thread.call, clock);
    return going(thread.tab, flight);
  });
}

/** How bad an end is: tokens lost before calls failed before refreshes made. */
function badness({ client }: Stage, before: BrowserState, { browser, exchanges }: Situation): number {
  const lost = (was: BrowserState, is: BrowserState) => was.tab.tokens !== null && is.tab.tokens === null;
  const anyLost = lost(before, browser) || lost(turnedOver(client, before), turnedOver(client, browser));
  const { last, refreshes } = toldBy({ exchanges });
  const failed = [...last.values()].filter((status) => status >= 400).length;
  return (anyLost ? 10_000 : 0) + failed * 100 + refreshes;
}

/** What exchanges tell of how bad an end is: how each call came out at last, and how often there was a refresh. */
function toldBy({ exchanges }: Pick<Situation, 'exchanges'>) {
  const calls = exchanges.filter(({ purpose }) => purpose === 'call');
  const last = new Map(
    calls.map(({ request, response }) => [
      `${request.method} ${request.path}${request.query}`,
      response.status,
    ]),
  );
  return { last, refreshes: refreshesIn(exchanges) };
}

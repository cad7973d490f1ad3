import { indexOf } from '../app/app.js';
import { sessionFault } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import { cookieHeader } from '../browser/cookie-jar.js';
import type { Clock } from '../time/clock.js';
import { shownAddress, targetOf } from '../http/address.js';
import { cookieValue } from '../http/cookies.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { Path } from '../language/text/yaml-text.js';
import { letsIn } from '../play/entries.js';
import { heldBy } from '../credentials/holdings.js';
import { refreshesIn } from '../play/refreshes.js';
import type { Exchange, Played, Stage } from '../play/stage.js';

/** What can be seen after a step: the values that expectations are held against. */
export interface Outcome {
  /** The address of the page that is shown; null where none is. */
  readonly lands: string | null;
  /** Why the page where it lands is not shown although it is that one: it answered with a refusal or an error; null where it is. */
  readonly refused: Refused | null;
  /** The status of the last response; null where none came. */
  readonly status: number | null;
  /** Whom the app took the visitor for in the end; null where it was not asked. */
  readonly seenAs: string | null;
  /** Who acts for that account; null where nobody does. */
  readonly actedBy: string | null;
  readonly why: Reason | null;
  /** The place of the policy that decided; null where the app was not asked. */
  readonly decidedBy: Path | null;
  /** The name of the barrier that stopped the visitor; null where none did. */
  readonly barrier: string | null;
  /** The addresses that sent the visitor on. */
  readonly via: readonly string[];
  readonly session: 'live' | 'none';
  readonly refreshes: number;
  /** The addresses of the menu links that the page shows. */
  readonly menu: readonly string[];
  /** The names of the parts that the page shows. */
  readonly parts: readonly string[];
  /** What the browser has. */
  readonly holds: readonly Credential[];
}

/** A page that was asked for and not shown. */
export interface Refused {
  readonly status: number;
  /** Who would not show it: the app, script in the page, or the browser, which gave up following redirects. */
  readonly by: 'app' | 'script' | 'browser';
}

/** Reads off what a step came to. */
export function outcomeOf(stage: Stage, played: Played, clock: Clock): Outcome {
  return new StepOutcome(stage, played, clock);
}

/** What most steps do not ask for is looked up only where it is asked. */
class StepOutcome implements Outcome {
  readonly lands: string | null;
  readonly refused: Refused | null;
  readonly status: number | null;
  readonly seenAs: string | null;
  readonly actedBy: string | null;
  readonly why: Reason | null;
  readonly decidedBy: Path | null;
  readonly barrier: string | null;
  readonly via: readonly string[];
  readonly refreshes: number;
  readonly menu: readonly string[];
  readonly parts: readonly string[];

  readonly #stage: Stage;
  readonly #played: Played;
  readonly #clock: Clock;

  constructor(stage: Stage, played: Played, clock: Clock) {
    this.#stage = stage;
    this.#played = played;
    this.#clock = clock;
    const { exchanges } = played;
    const last = exchanges.at(-1);
    const page = played.browser.tab.page;
    const telling = tellingExchange(exchanges) ?? last;
    this.lands = page === null ? null : shownAddress(page.address, stage.client.origin);
    this.refused = page === null ? null : refusedAt(page.status, played);
    this.status = last?.response.status ?? null;
    this.seenAs = last === undefined ? null : (last.explanation.seenAs ?? 'guest');
    this.actedBy = last?.explanation.actedBy ?? null;
    this.why = whyOf(stage, played, telling);
    this.decidedBy =
      (played.refusedByScript === null ? telling?.explanation.decidedBy : shellOf(exchanges)) ?? null;
    this.barrier = this.why === 'barrier' ? barrierAt(stage, this.decidedBy) : null;
    const isPlain = exchanges.length < 2 && (last === undefined || last.response.location === null);
    this.via = isPlain ? NONE : viaOf(exchanges);
    this.refreshes = exchanges.length < 2 ? 0 : refreshesIn(exchanges);
    this.menu = page?.menu ?? NONE;
    this.parts = page?.parts ?? NONE;
  }

  get session(): 'live' | 'none' {
    return hasLiveSession(this.#stage, this.#played, this.#clock) ? 'live' : 'none';
  }

  get holds(): readonly Credential[] {
    return heldBy(this.#stage, this.#played.browser, this.#clock);
  }
}

const NONE: readonly string[] = [];

function refusedAt(status: number, { cutShort, refusedByScript }: Played): Refused | null {
  if (cutShort === 'redirect-loop') return { status, by: 'browser' };
  if (status < 400) return null;
  return { status, by: refusedByScript === null ? 'app' : 'script' };
}

/**
 * The exchange that explains the step: the first that did not serve what was asked, but for those made good by a refresh.
 * Being sent on as it was meant explains a step only where nothing else does.
 */
function tellingExchange(exchanges: readonly Exchange[]): Exchange | undefined {
  let forwarded: Exchange | undefined;
  for (const [at, exchange] of exchanges.entries()) {
    const { reason } = exchange.explanation;
    const isRenewedFor = exchange.purpose !== 'refresh' && exchanges[at + 1]?.purpose === 'refresh';
    if (reason === 'served' || isRenewedFor) continue;
    if (isMadeGood(exchange, exchanges)) continue;
    if (reason !== 'forwarded') return exchange;
    forwarded ??= exchange;
  }
  return forwarded;
}

/** The place that says whom a page is for that was given to anybody, and whose script turned somebody away. */
function shellOf(exchanges: readonly Exchange[]): Path | undefined {
  const shell = exchanges.find(
    ({ response: { body }, route }) =>
      body.kind === 'page' && body.guard !== null && route?.guard === 'browser',
  );
  return shell?.route?.grounds.at;
}

/** Whether a call that was refused was made again and served. */
function isMadeGood({ purpose, request }: Exchange, all: readonly Exchange[]): boolean {
  if (purpose !== 'call') return false;
  return all.some(
    (each) =>
      each.purpose === 'call' && each.request.path === request.path && each.explanation.reason === 'served',
  );
}

function whyOf(stage: Stage, played: Played, telling: Exchange | undefined): Reason | null {
  if (played.cutShort !== null) return played.cutShort;
  if (isCookieLost(stage, played)) return 'cookie-not-kept';
  if (played.refusedByScript !== null) return played.refusedByScript;
  const reason = telling?.explanation.reason ?? null;
  if (reason !== 'guest') return reason;
  // Taken for a guest in the very step in which the session cookie was due and did not stay.
  const lost =
    played.refusedCookies.length > 0 ||
    played.exchanges.some((exchange) => exchange.explanation.cookieWithheld === true);
  return lost ? 'cookie-not-kept' : reason;
}

/** The name of the barrier at a place of the policy. */
function barrierAt({ app }: Stage, place: Path | null): string | null {
  return app.policy.barriers.find(({ at }) => at === place)?.name ?? null;
}

/** Whether somebody was let in, and the browser did not get or keep the session cookie for it. */
function isCookieLost({ app }: Stage, { exchanges, refusedCookies }: Played): boolean {
  const isRefused = refusedCookies.includes(app.policy.session.cookie.name);
  return exchanges.some(
    (exchange) => (isRefused || exchange.explanation.cookieWithheld === true) && letsIn(exchange),
  );
}

function viaOf(exchanges: readonly Exchange[]): string[] {
  const via: string[] = [];
  exchanges.forEach((exchange, at) => {
    const next = exchanges[at + 1];
    const redirected = exchange.response.location !== null;
    const movedOnByScript =
      next?.purpose === 'navigate' && (exchange.purpose === 'login' || isTurnedAway(exchange, next));
    if (redirected || movedOnByScript) via.push(targetOf(exchange.request));
    // After a failed refresh it is the call that was made which led elsewhere.
    if (exchange.purpose === 'refresh' && next?.purpose === 'navigate') {
      via.push(targetOf((exchanges[at - 1] ?? exchange).request));
    }
  });
  return via;
}

/** Whether script left a page, or a request of it that was refused, for another page. */
function isTurnedAway(exchange: Exchange, next: Exchange): boolean {
  const fromShell = exchange.purpose === 'navigate' && exchange.response.body.kind === 'page';
  const fromLoad = exchange.purpose === 'call' && exchange.response.status >= 400;
  return next.request.method === 'GET' && (fromShell || fromLoad);
}

/** Whether the app would know this browser by its session now; asking does not count as activity. */
function hasLiveSession(stage: Stage, played: Played, clock: Clock): boolean {
  const { app, client } = stage;
  if (played.browser.cookies.length === 0) return false;
  const { name, path } = app.policy.session.cookie;
  const header = cookieHeader(played.browser.cookies, { origin: client.origin, path, query: '' }, clock);
  const id = cookieValue(header, name);
  const record = id === null ? undefined : played.state.sessions[indexOf('session', id)];
  if (record === undefined || sessionFault(app, played.state, record, clock) !== null) return false;
  return !record.half && played.state.accounts.get(record.account ?? '')?.state === 'active';
}

import { indexOf } from '../app/app.js';
import { sessionFault } from '../app/identify.js';
import type { Reason } from '../app/reasons.js';
import { cookieHeader } from '../browser/cookie-jar.js';
import type { Clock } from '../clock.js';
import { shownAddress, targetOf } from '../http/address.js';
import { cookieValue } from '../http/cookies.js';
import type { Path } from '../language/yaml-text.js';
import type { Exchange, Played, Stage } from './stage.js';

/** What can be seen after a step: the values that expectations are held against. */
export interface Outcome {
  /** The address of the page that is shown; null where none is. */
  readonly lands: string | null;
  /** The status of the last response; null where none came. */
  readonly status: number | null;
  /** Whom the app took the visitor for in the end; null where it was not asked. */
  readonly seenAs: string | null;
  readonly why: Reason | null;
  /** The place of the policy that decided; null where the app was not asked. */
  readonly decidedBy: Path | null;
  /** The addresses that sent the visitor on. */
  readonly via: readonly string[];
  readonly session: 'live' | 'none';
  readonly refreshes: number;
}

/** Reads off what a step came to. */
export function outcomeOf(stage: Stage, played: Played, clock: Clock): Outcome {
  const { exchanges } = played;
  const last = exchanges.at(-1);
  const page = played.browser.tab.page;
  const telling = tellingExchange(exchanges) ?? last;
  return {
    lands: page === null ? null : shownAddress(page.address, stage.client.origin),
    status: last?.response.status ?? null,
    seenAs: last === undefined ? null : (last.explanation.seenAs ?? 'guest'),
    why: whyOf(played, telling),
    decidedBy: telling?.explanation.decidedBy ?? null,
    via: exchanges.length < 2 ? NONE : viaOf(exchanges),
    session: hasLiveSession(stage, played, clock) ? 'live' : 'none',
    refreshes:
      exchanges.length < 2 ? 0 : exchanges.filter((exchange) => exchange.purpose === 'refresh').length,
  };
}

const NONE: readonly string[] = [];

/** The exchange that explains the step: the first that did not serve what was asked, but for those made good by a refresh. */
function tellingExchange(exchanges: readonly Exchange[]): Exchange | undefined {
  return exchanges.find(
    (exchange, at) => exchange.explanation.reason !== 'served' && exchanges[at + 1]?.purpose !== 'refresh',
  );
}

function whyOf(played: Played, telling: Exchange | undefined): Reason | null {
  if (played.cutShort !== null) return played.cutShort;
  const reason = telling?.explanation.reason ?? null;
  // Taken for a guest in the very step in which the session cookie was handed out and not kept.
  return reason === 'guest' && played.refusedCookies.length > 0 ? 'cookie-not-kept' : reason;
}

function viaOf(exchanges: readonly Exchange[]): string[] {
  const via: string[] = [];
  exchanges.forEach((exchange, at) => {
    const next = exchanges[at + 1];
    const redirected = exchange.response.location !== null;
    const movedOnByScript = next !== undefined && exchange.purpose === 'login';
    if (redirected || movedOnByScript) via.push(targetOf(exchange.request));
    // After a failed refresh it is the call that was made which led elsewhere.
    if (exchange.purpose === 'refresh' && next?.purpose === 'navigate') {
      via.push(targetOf((exchanges[at - 1] ?? exchange).request));
    }
  });
  return via;
}

/** Whether the app would know this browser by its session now; asking does not count as activity. */
function hasLiveSession(stage: Stage, played: Played, clock: Clock): boolean {
  const { app, client } = stage;
  if (played.browser.cookies.length === 0) return false;
  const header = cookieHeader(played.browser.cookies, { origin: client.origin, path: '/', query: '' }, clock);
  const id = cookieValue(header, app.policy.session.cookie.name);
  const record = id === null ? undefined : played.state.sessions[indexOf('session', id)];
  if (record === undefined || sessionFault(app, record, clock) !== null) return false;
  return played.state.accounts.get(record.account)?.state === 'active';
}

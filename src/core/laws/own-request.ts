import { indexOf, type AppState } from '../app/app.js';
import type { Clock } from '../time/clock.js';
import type { BrowserState } from '../browser/state.js';
import { isSafe } from '../http/messages.js';
import type { Exchange, Stage } from '../play/stage.js';
import { isSameSite } from '../http/site.js';
import { heldCounting } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import type { Law, Sight, View } from './law.js';
import { isShown } from './shown.js';
import { entrantOf } from '../steps/asking.js';

/** No other site does anything in a visitor's name. */
export const ownRequest: Law = {
  meta: {
    name: 'own-request',
    title:
      "A form or link on another site makes the app change something in a visitor's name, log them out, or log them in.",
    holds: "No other site changes anything in a visitor's name, logs them out or logs them in.",
    mend: 'set csrf: { token: per-session } or csrf: { origin: checked }',
    weight: 'law',
  },
  broken: (view) => (isFromElsewhere(view) ? (changed(view) ?? loggedIn(view) ?? loggedOut(view)) : null),
};

/** Whether a link or form of another site starts a step: what is of the app's own site is not kept apart by cookies. */
function isFromElsewhere({ action, stage }: View): boolean {
  const from = 'from' in action ? action.from : null;
  return from !== null && !isSameSite(from, stage.app.policy.origin);
}

/** A write that was served to somebody for what their browser sent along. */
function changed({ played, stage }: View): Sight | null {
  for (const exchange of played.exchanges) {
    const { request, visitor, route } = exchange;
    if (isSafe(request.method) || visitor.account === null) continue;
    if (!isShown(exchange) && !isDone(exchange)) continue;
    return {
      seen: `a form on another site sends ${request.method} ${request.path} in the name of ${visitor.account}`,
      weakness: 'change',
      ...allowedBy(stage, route?.grounds.at ?? []),
    };
  }
  return null;
}

/** Whether the app did something of its own in the visitor's name, but for logging them in or out. */
function isDone({ route, explanation }: Exchange): boolean {
  return DEEDS.has(route?.task ?? '') && explanation.reason === 'served';
}

const DEEDS: ReadonlySet<string> = new Set(['change-password', 'act-for', 'stop-acting']);

/** The place that lets it happen: what the app does about forms of others, else the cookie that goes along. */
function allowedBy({ app: { policy } }: Stage, at: Sight['allowedBy']): Pick<Sight, 'allowedBy'> {
  if (policy.csrf !== null) return { allowedBy: ['csrf'] };
  const isOpen = policy.session.cookie.sameSite === 'none' || policy.session.cookie.sameSite === 'unset';
  return { allowedBy: isOpen ? ['session', 'cookie', 'same-site'] : at };
}

/** A policy that says nothing of forms of other sites is not asked who filled in its login form. */
function loggedIn({ played, stage }: View): Sight | null {
  if (stage.app.policy.csrf === null) return null;
  const entry = played.exchanges.find(letsIn);
  if (entry === undefined) return null;
  return {
    seen: `a form on another site logs the visitor in as ${entry.explanation.seenAs ?? ''}`,
    allowedBy: ['csrf'],
    weakness: 'login',
  };
}

function loggedOut({ stage, action, before, from, played, clock }: View): Sight | null {
  // Who was logged in as somebody else is told above.
  if (entrantOf(action) !== null) return null;
  const was = signedIn(stage, before, from, clock);
  if (was === null || signedIn(stage, played.state, played.browser, clock) !== null) return null;
  const last = played.exchanges.find(({ route }) => route?.task === 'logout');
  if (last !== undefined) {
    return {
      seen: `another site logs ${was} out by ${last.request.method} ${last.request.path}`,
      allowedBy: last.explanation.decidedBy,
      weakness: 'logout',
      mend: isSafe(last.request.method) ? 'set logout.submit: POST' : ownRequest.meta.mend,
    };
  }
  const first = played.exchanges[0];
  return {
    seen: `${first?.request.method ?? ''} ${first?.request.path ?? ''} from another site starts a session in the place of that of ${was}`,
    allowedBy: ['session', 'starts'],
    weakness: 'session',
    mend: 'set session.starts: with-a-form, and show no form to requests of other sites',
  };
}

/** Who is signed in at a browser by its cookies, which an answer can take away; null for nobody. */
function signedIn(stage: Stage, state: AppState, browser: BrowserState, clock: Clock): string | null {
  const inCookies = stage.app.policy.tokens?.kept === 'cookie';
  const held = inCookies ? browser : { ...browser, tab: { ...browser.tab, tokens: null } };
  const handle = heldCounting(stage, state, held, clock);
  if (handle === null) return null;
  const session = state.sessions[indexOf('session', handle)]?.account;
  const token =
    state.accessTokens[indexOf('access', handle)] ?? state.refreshTokens[indexOf('refresh', handle)];
  const remembered = state.remembered[indexOf('remember', handle)]?.account;
  return session ?? remembered ?? state.families[token?.family ?? -1]?.account ?? 'the visitor';
}

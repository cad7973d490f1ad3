import { NO_LOGIN, type AppState } from '../app/app.js';
import { loginsShown } from '../app/logout.js';
import { handedOut, loginOf, type HandedOut } from '../credentials/handed-out.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import { parameterOf } from '../http/address.js';
import { handleOf } from '../credentials/holdings.js';
import type { Exchange } from '../play/stage.js';
import { counts } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import type { View } from './law.js';
import type { LeftBehind, Memory } from './memory.js';
import { oncePerStep } from './once-per-step.js';
import { passwordChanges } from './password-changes.js';
import { eventOf, givenBy, hasTrait } from '../steps/asking.js';
import { isAdministration, type Administration } from '../steps/all-steps.js';

/** The memory with a step added. */
export const remembering = oncePerStep((view): Memory => {
  const memory = withStep(view);
  const handedOn = withHandedOn(view, memory.leftBehind);
  const left = passwordChanges(view).reduce(
    (known, account) => withLeft(view, 'password-changed', known, (each) => each.owner === account),
    handedOn,
  );
  return left === memory.leftBehind ? memory : { ...memory, leftBehind: left };
});

/** What was left behind before a step, and what was handed out for it in the step. */
export const watchedIn = oncePerStep((view): readonly LeftBehind[] =>
  withHandedOn(view, view.memory.leftBehind),
);

/** With what a step handed out that goes back to a login of which something was left behind. */
function withHandedOn(
  { before, played: { state } }: View,
  left: readonly LeftBehind[],
): readonly LeftBehind[] {
  if (left.length === 0 || before === state) return left;
  const handed = handedOut(state, before);
  if (handed.length === 0) return left;
  const added = handed.flatMap(({ kind, index, login, handle }) =>
    eventsOf(state, left, login, handle).map(({ after, at }) => ({
      after,
      what: kind.gotFor(state, index) ?? kind.name,
      handle,
      at,
    })),
  );
  return added.length === 0 ? left : [...left, ...added];
}

/** The events after which a login is one of those of which something was left behind, and a credential is not watched yet. */
function eventsOf(
  state: AppState,
  left: readonly LeftBehind[],
  login: number,
  handle: string,
): readonly LeftBehind[] {
  if (login === NO_LOGIN) return [];
  const events = new Map<PromiseEvent, LeftBehind>();
  for (const each of left) if (loginOf(state, each.handle) === login) events.set(each.after, each);
  return [...events.values()].filter(
    ({ after }) => !left.some((known) => known.handle === handle && known.after === after),
  );
}

function withStep(view: View): Memory {
  const { action, memory } = view;
  const given = givenBy(action);
  if (given !== null) {
    const handle = handleOf(view.stage, view.from, given.what, view.clock);
    return handle === null ? memory : { ...memory, copied: new Set(memory.copied).add(handle) };
  }
  if (isAdministration(action)) return afterChange(view, action);
  if (isLogout(view)) return afterLogout(view);
  if (hasTrait(action, 'turns-away')) {
    return memory.asked.has(view.browser) ? withoutAsked(memory, view.browser) : memory;
  }
  if (view.played.exchanges.length === 0) return memory;
  return hasTrait(action, 'asks-sign-in-link') && isAskedAnywhere(view)
    ? { ...afterRequests(view), linksAsked: new Set(memory.linksAsked).add(view.browser) }
    : afterRequests(view);
}

/** After what an administrator did. A changed password is told by `passwordChanges`. */
function afterChange(view: View, action: Administration): Memory {
  const { memory } = view;
  const event = eventOf(action);
  if (event === null || event === 'password-changed' || !('account' in action)) return memory;
  return {
    ...memory,
    changed: new Map(memory.changed).set(action.account, { event, at: view.clock.now }),
    leftBehind: withLeft(view, event, memory.leftBehind, ({ owner }) => owner === action.account),
  };
}

/** Whoever was sent to the login has turned from it. */
function withoutAsked(memory: Memory, browser: string): Memory {
  const asked = new Map(memory.asked);
  asked.delete(browser);
  return { ...memory, asked };
}

/** With every credential that still counts although it goes back to a login from before an event, as far as anything is asked of it. */
function withLeft(
  { book, stage, before, played: { state }, clock }: View,
  after: PromiseEvent,
  known: Memory['leftBehind'],
  isMeant: (each: HandedOut) => boolean,
): Memory['leftBehind'] {
  const watched = book.watchedAfter(after);
  if (watched.length === 0) return known;
  const left = handedOut(state, null).flatMap((each): LeftBehind[] => {
    const { kind, index, login, handle } = each;
    if (login >= before.logins || !isMeant(each)) return [];
    if (known.some((left) => left.handle === handle && left.after === after)) return [];
    const source = kind.gotFor(state, index);
    const kinds = source !== null && book.isPromisedOf(after, source) ? [kind.name, source] : [kind.name];
    const asked = kinds.filter((what) => watched.includes(what));
    // Of what nobody asks the clock is not asked either.
    if (asked.length === 0 || !counts(stage, state, kind.name, handle, clock)) return [];
    return asked.map((what) => ({ after, what, handle, at: clock.now }));
  });
  return left.length === 0 ? known : [...known, ...left];
}

/** Whether a link was asked for that is good in every browser. */
function isAskedAnywhere({ stage }: View): boolean {
  return stage.app.policy.linkLogin?.sameBrowser === false;
}

/** Whether a step logs out. A form that the app does not take for its own is no logout: its sender is told, and still in. */
export function isLogout({ action, played }: View): boolean {
  if (eventOf(action) !== 'logout') return false;
  return played.exchanges.every(({ explanation }) => explanation.reason !== 'csrf-refused');
}

function afterLogout(view: View): Memory {
  const { memory, browser } = view;
  const { logins, handles } = loggedOutIn(view);
  return {
    ...withoutAsked(memory, browser),
    leftBehind: withLeft(
      view,
      'logout',
      memory.leftBehind,
      ({ login, handle }) => logins.has(login) || handles.has(handle),
    ),
    loggedOut: new Set(memory.loggedOut).add(browser),
  };
}

/**
 * What somebody logs out of: the logins that what the browser shows goes back to, and what else it has, of which the app learns
 * nothing.
 */
export function loggedOutIn({ stage, played: { state, exchanges }, from, clock }: View): {
  readonly logins: ReadonlySet<number>;
  readonly handles: ReadonlySet<string>;
} {
  const logins = exchanges.flatMap(({ route, request, visitor }) =>
    route?.task === 'logout' ? [...loginsShown(stage.app, state, request, visitor)] : [],
  );
  const handles = CREDENTIALS.flatMap((what) => handleOf(stage, from, what, clock) ?? []);
  return { logins: new Set(logins), handles: new Set(handles) };
}

/** Remembers what a guest asked for, until they get in or are shown something else. */
function afterRequests(view: View): Memory {
  const { memory, browser, played } = view;
  const { exchanges } = played;
  const sentToLogin = exchanges.find((exchange) => isSentToLogin(view, exchange));
  const pending = memory.asked.has(browser);
  const out = memory.loggedOut.has(browser);
  if (sentToLogin === undefined && !pending && !out) return memory;
  const entered = exchanges.some(letsIn);
  let { asked, loggedOut } = memory;
  if (entered && out) {
    const still = new Set(loggedOut);
    still.delete(browser);
    loggedOut = still;
  }
  if (sentToLogin !== undefined) {
    asked = new Map(asked).set(browser, sentToLogin.request.path + sentToLogin.request.query);
  } else if (pending) {
    const last = exchanges.at(-1)?.request.path;
    const atForm = Object.values(view.stage.client.forms).some((form) => last === form?.page);
    if (entered || !atForm || hasTrait(view.action, 'goes-elsewhere') || opensFormAnew(view)) {
      const fewer = new Map(asked);
      fewer.delete(browser);
      asked = fewer;
    }
  }
  return { ...memory, asked, loggedOut };
}

function isSentToLogin({ stage }: View, { request, response, visitor }: Exchange): boolean {
  const { location } = response;
  if (location === null || visitor.account !== null || request.method !== 'GET') return false;
  return Object.values(stage.client.loginPages).some(
    (page) => page !== undefined && location.startsWith(page),
  );
}

/** Whether a form is filled in that knows of no page that was asked for, as somebody had to go to it first. */
export function opensFormAnew({ action, played, stage }: View): boolean {
  const [first] = played.exchanges;
  // Somebody else filled in the form of another site.
  if ('from' in action && action.from !== null) return true;
  // The link to a provider knows of the page in its own query.
  if (first?.route?.task === 'provider-start') {
    const param = stage.app.policy.login?.return?.param;
    return param === undefined || parameterOf(first.request.query, param) === null;
  }
  return hasTrait(action, 'by-link') || (hasTrait(action, 'way-in') && first?.request.method === 'GET');
}

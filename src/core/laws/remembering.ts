import { CREDENTIAL_KINDS } from '../credentials/all-credentials.js';
import { handlesOf } from '../credentials/credential-kind.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import { parameterOf } from '../http/address.js';
import { handleOf } from '../credentials/holdings.js';
import type { Exchange } from '../play/stage.js';
import { counts } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import { descentsOf } from './descent.js';
import type { View } from './law.js';
import type { LeftBehind, Memory } from './memory.js';
import { oncePerStep } from './once-per-step.js';
import { passwordChanges } from './password-changes.js';

/** The memory with a step added. */
export const remembering = oncePerStep((view): Memory => {
  const memory = withStep(view);
  const handedOn = handedOnIn(view, memory.leftBehind);
  const left = withPasswords(view, handedOn);
  return left === memory.leftBehind ? memory : { ...memory, leftBehind: left };
});

/** With what is left behind at a changed password. What is handed out for the new one does not go back to it. */
function withPasswords(view: View, leftBehind: Memory['leftBehind']): Memory['leftBehind'] {
  return passwordChanges(view).reduce(
    (left, account) => withPromised(view, 'password-changed', account, left),
    leftBehind,
  );
}

/** What was left behind before a step, and what was handed out for it in the step. */
export const watchedIn = oncePerStep((view): readonly LeftBehind[] =>
  handedOnIn(view, view.memory.leftBehind),
);

function handedOnIn({ stage, played }: View, leftBehind: readonly LeftBehind[]): readonly LeftBehind[] {
  if (leftBehind.length === 0) return leftBehind;
  let all = leftBehind;
  for (const exchange of played.exchanges) {
    for (const { from, to } of descentsOf(stage.app.policy, played.state, exchange)) {
      for (const { after, what, at } of all.filter(({ handle }) => handle === from)) {
        for (const handle of to) {
          const isKnown = all.some(
            (known) => known.handle === handle && known.after === after && known.what === what,
          );
          if (!isKnown) all = [...all, { after, what, handle, at }];
        }
      }
    }
  }
  return all;
}

function withStep(view: View): Memory {
  const { action, memory } = view;
  switch (action.verb) {
    case 'logout':
      return isLogout(view) ? afterLogout(view) : afterRequests(view);
    case 'copy':
    case 'plant': {
      const handle = handleOf(view.stage, view.from, action.what, view.clock);
      return handle === null ? memory : { ...memory, copied: new Set(memory.copied).add(handle) };
    }
    case 'set-roles':
    case 'suspend':
    case 'delete-account': {
      const event = EVENTS[action.verb];
      return {
        ...memory,
        changed: new Map(memory.changed).set(action.account, { event, at: view.clock.now }),
        leftBehind: withPromised(view, event, action.account, memory.leftBehind),
      };
    }
    case 'set-password':
      return memory;
    case 'ask-link':
      return isAskedAnywhere(view)
        ? { ...afterRequests(view), linksAsked: new Set(memory.linksAsked).add(view.browser) }
        : afterRequests(view);
    case 'back':
    case 'clear-cookies':
    case 'new-tab':
    case 'close-tab':
    case 'close-browser':
      return memory.asked.has(view.browser) ? withoutAsked(memory, view.browser) : memory;
    default:
      return view.played.exchanges.length === 0 ? memory : afterRequests(view);
  }
}

/** Whoever was sent to the login has turned from it. */
function withoutAsked(memory: Memory, browser: string): Memory {
  const asked = new Map(memory.asked);
  asked.delete(browser);
  return { ...memory, asked };
}

/** With every credential of an account of which the policy promises something after an event. */
function withPromised(
  view: View,
  after: PromiseEvent,
  account: string,
  leftBehind: Memory['leftBehind'],
): Memory['leftBehind'] {
  const { book, stage, before: state, clock } = view;
  const promised = book.watchedAfter(after);
  if (promised.length === 0) return leftBehind;
  const handles = promised.flatMap((what) =>
    handlesOf(CREDENTIAL_KINDS[what], state, account).map((each): LeftBehind => ({
      after,
      what,
      handle: each,
      at: clock.now,
    })),
  );
  const isKnown = ({ handle }: LeftBehind) =>
    leftBehind.some((known) => known.handle === handle && known.after === after);
  const left = handles.filter(
    (each) => !isKnown(each) && counts(stage, state, each.what, each.handle, clock),
  );
  return [...leftBehind, ...left];
}

/** Whether a link was asked for that is good in every browser. */
function isAskedAnywhere({ stage }: View): boolean {
  return stage.app.policy.linkLogin?.sameBrowser === false;
}

const EVENTS = {
  'set-roles': 'role-removed',
  suspend: 'suspended',
  'delete-account': 'suspended',
} as const;

/** Whether a step logs out. A form that the app does not take for its own is no logout: its sender is told, and still in. */
export function isLogout({ action, played }: View): boolean {
  if (action.verb !== 'logout') return false;
  return played.exchanges.every(({ explanation }) => explanation.reason !== 'csrf-refused');
}

function afterLogout(view: View): Memory {
  const { memory, browser, stage, from, clock } = view;
  const known = new Set(memory.leftBehind.flatMap((each) => (each.after === 'logout' ? [each.handle] : [])));
  const left = CREDENTIALS.flatMap((what): LeftBehind[] => {
    const held = handleOf(stage, from, what, clock);
    return held === null || known.has(held) ? [] : [{ after: 'logout', what, handle: held, at: clock.now }];
  });
  return {
    ...withoutAsked(memory, browser),
    leftBehind: [...memory.leftBehind, ...left],
    loggedOut: new Set(memory.loggedOut).add(browser),
  };
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
    if (entered || !atForm || GOES_ELSEWHERE.has(view.action.verb) || opensFormAnew(view)) {
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

/** Whoever goes anywhere else by themselves, the bare form included, does not ask for the page any more. */
const GOES_ELSEWHERE: ReadonlySet<string> = new Set([
  'visit',
  'send',
  'together',
  'follow',
  'confirm',
  // Whoever goes on by a link that is sent to them has left the form behind.
  'ask-reset',
  'reset',
  'ask-link',
  'open-link',
]);

/** Whether somebody who fills in a form had to go to it first, and so to a form that knows of no page that was asked for. */
export function opensFormAnew({ action, played, stage }: View): boolean {
  const [first] = played.exchanges;
  // The link to a provider knows of the page in its own query.
  if (first?.route?.task === 'provider-start') {
    const param = stage.app.policy.login?.return?.param;
    return param === undefined || parameterOf(first.request.query, param) === null;
  }
  return BY_LINK.has(action.verb) || (FILLS_IN.has(action.verb) && first?.request.method === 'GET');
}

/** A link knows of no page that was asked for. */
const BY_LINK: ReadonlySet<string> = new Set(['reset', 'open-link']);
const FILLS_IN: ReadonlySet<string> = new Set(['login', 'code', 'sign-up']);

import type { PolicyPromise } from '../language/policy.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import type { Exchange } from '../play/stage.js';
import { formatDuration } from '../time/duration.js';
import { copyWords, counts, kindOf } from '../credentials/counts.js';
import { knownBy } from './known-by.js';
import { isAboutCredentials } from './law-book.js';
import type { Sight, View } from './law.js';
import type { LawName } from '../vocabulary/law-names.js';
import { oncePerStep } from './once-per-step.js';
import { afterLogout, promiseOf } from './owning.js';
import { remembering, watchedIn } from './remembering.js';
import { passwordChanges } from './password-changes.js';
import { isOutsideNow, isShown } from './shown.js';
import { eventOf } from '../steps/asking.js';

/** A promise of the policy that a step shows not to be kept. */
export interface Unkept {
  readonly promise: PolicyPromise;
  readonly sight: Sight;
}

const NONE: readonly Unkept[] = [];

/** Every promise that a step shows not to be kept, but for those about how soon a page can be reached. */
export const unkeptPromises = oncePerStep((view): readonly Unkept[] => {
  const { promises } = view.stage.app.policy;
  if (promises.length === 0) return NONE;
  let unkept = NONE;
  for (const promise of promises) {
    const seen = shown(view, promise);
    if (seen === null) continue;
    unkept = [...unkept, { promise, sight: { ...seen, weakness: `promise ${String(promise.at[1])}` } }];
  }
  return unkept;
});

function shown(view: View, promise: PolicyPromise): Sight | null {
  if (promise.only !== null) return shownToOthers(view, promise);
  if (promise.after === null) return null;
  return isAboutCredentials(promise) ? stillCounts(view, promise) : stillShown(view, promise);
}

function shownToOthers({ played, book }: View, promise: PolicyPromise): Sight | null {
  for (const { route, visitor, response } of played.exchanges) {
    if (route === null || route.page === null || response.status >= 300) continue;
    if (!book.promisesFor(route.path).includes(promise)) continue;
    if (promise.only?.some((role) => visitor.roles.has(role)) === true) continue;
    const who = visitor.account ?? 'a guest';
    return {
      seen: `${who} is shown ${route.path}, promised to ${promise.only?.join(' and ') ?? ''} only`,
      allowedBy: route.grounds.at,
    };
  }
  return null;
}

/** It is told when it is first so, or at any step later. */
function stillCounts(view: View, promise: PolicyPromise): Sight | null {
  const isEvent = eventOf(view.action) !== null || passwordChanges(view).length > 0;
  const watched = isEvent ? remembering(view).leftBehind : watchedIn(view);
  for (const left of watched) {
    const { after, what, handle, at } = left;
    if (after !== promise.after || (promise.copied ?? what) !== what) continue;
    const bound = promise.atMost ?? 0;
    // Whether it counts is asked first: of one that is over nothing more is asked.
    if (!counts(view.stage, view.played.state, kindOf(handle), handle, view.clock)) continue;
    if (bound > 0 && !view.clock.elapsed(at, bound)) continue;
    const since = `${bound === 0 ? '' : `${formatDuration(bound)} `}${AFTER[after]}`;
    const { policy } = view.stage.app;
    const own = promise.copied === null ? LONGER : promiseOf(policy, after, what);
    return {
      seen: `${copyWords(left)} still counts ${since}`,
      allowedBy: promise.at,
      ...(after === 'logout' ? afterLogout(policy, left) : {}),
      own,
    };
  }
  return null;
}

const LONGER = 'promises: the same with the time that cavrin prove shows under Exposure';

const AFTER = {
  logout: 'after the logout',
  'role-removed': 'after the role was removed',
  suspended: 'after the account was suspended',
  'password-changed': 'after the password was changed',
};

function stillShown(view: View, promise: PolicyPromise): Sight | null {
  for (const exchange of view.played.exchanges) {
    const { visitor, request } = exchange;
    const change = view.memory.changed.get(visitor.account ?? '');
    if (change === undefined || change.event !== promise.after || !isShown(exchange)) continue;
    if (promise.copied !== null && !goesBackTo(view, exchange, promise.copied, change.event)) continue;
    if (!isOutsideNow(view, exchange) || !view.clock.elapsed(change.at, promise.atMost ?? 0)) continue;
    const bound = formatDuration(promise.atMost ?? 0);
    return {
      seen: `${visitor.account ?? ''} is shown ${request.path} ${bound} ${AFTER[change.event]}`,
      allowedBy: visitor.by === 'token' ? ['tokens', 'roles'] : ['session', 'roles'],
    };
  }
  return null;
}

/** Whether a visitor was known by a credential from before something, or by what was got for one. */
function goesBackTo(view: View, exchange: Exchange, copied: Credential, event: PromiseEvent): boolean {
  const known = knownBy(view.stage.app.policy, exchange);
  return watchedIn(view).some(
    ({ after, what, handle }) => after === event && what === copied && handle === known,
  );
}

/** The promises after what happened to an account that bear on the credential by which a visitor is known. */
export function promisesOn(view: View, exchange: Exchange, event: PromiseEvent): readonly PolicyPromise[] {
  return view.book
    .promisesAfter(event)
    .filter(({ copied }) => copied === null || goesBackTo(view, exchange, copied, event));
}

/** The law that walks break where a promise is not kept; null for one that walks are not held to. */
export function lawOfPromise(promise: PolicyPromise): LawName | null {
  if (promise.only !== null) return 'only-promised';
  if (promise.after === null) return null;
  if (!isAboutCredentials(promise)) return 'right-audience';
  return promise.after === 'logout' ? 'logout-final' : 'promise-kept';
}

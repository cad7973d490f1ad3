import type { PolicyPromise } from '../language/policy.js';
import { formatDuration } from '../language/duration.js';
import { counts, CREDENTIAL_NAMES } from './counts.js';
import { isAboutCredentials, KNOWN_BY } from './law-book.js';
import type { Sight, View } from './law.js';
import type { LawName } from './law-names.js';
import { remembering } from './memory.js';
import { credentialOf, isOutsideNow, isShown } from './right-audience.js';

/** A promise of the policy that a step shows not to be kept. */
export interface Unkept {
  readonly promise: PolicyPromise;
  readonly sight: Sight;
}

const NONE: readonly Unkept[] = [];

/** Every promise that a step shows not to be kept, but for those about how soon a page can be reached. */
export function unkeptPromises(view: View): readonly Unkept[] {
  const { promises } = view.stage.app.policy;
  if (promises.length === 0) return NONE;
  let unkept = NONE;
  for (const promise of promises) {
    const seen = shown(view, promise);
    if (seen !== null) unkept = [...unkept, { promise, sight: seen }];
  }
  return unkept;
}

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
  const isEvent = AT_ONCE.has(view.action.verb);
  const { leftBehind } = isEvent ? remembering(view) : view.memory;
  for (const { after, what, handle, at } of leftBehind) {
    if (after !== promise.after || (promise.copied ?? what) !== what) continue;
    const bound = promise.atMost ?? 0;
    // Whether it counts is asked first: of one that is over nothing more is asked.
    if (!counts(view.stage, view.played.state, what, handle, view.clock)) continue;
    if (bound > 0 && !view.clock.elapsed(at, bound)) continue;
    const since = `${bound === 0 ? '' : `${formatDuration(bound)} `}${AFTER[after]}`;
    return { seen: `a copy of the ${CREDENTIAL_NAMES[what]} still counts ${since}`, allowedBy: promise.at };
  }
  return null;
}

const AT_ONCE: ReadonlySet<string> = new Set([
  'logout',
  'suspend',
  'delete-account',
  'set-roles',
  'set-password',
]);
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
    if (promise.copied !== null && KNOWN_BY[promise.copied] !== credentialOf(visitor)) continue;
    if (!isOutsideNow(view, exchange) || !view.clock.elapsed(change.at, promise.atMost ?? 0)) continue;
    const bound = formatDuration(promise.atMost ?? 0);
    return {
      seen: `${visitor.account ?? ''} is shown ${request.path} ${bound} ${AFTER[change.event]}`,
      allowedBy: visitor.by === 'token' ? ['tokens', 'roles'] : ['session', 'roles'],
    };
  }
  return null;
}

/** The law that walks break where a promise is not kept; null for one that walks are not held to. */
export function lawOfPromise(promise: PolicyPromise): LawName | null {
  if (promise.only !== null) return 'only-promised';
  if (promise.after === null) return null;
  if (!isAboutCredentials(promise)) return 'right-audience';
  return promise.after === 'logout' ? 'logout-final' : 'promise-kept';
}

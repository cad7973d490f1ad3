import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { formatDuration } from '../time/duration.js';
import { copyWords, counts, kindOf } from '../credentials/counts.js';
import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import { knownBy } from './known-by.js';
import type { Sight, View } from './law.js';
import type { LeftBehind } from './memory.js';
import { remembering, watchedIn } from './remembering.js';
import { isShown } from './shown.js';

/** Something after which nothing from before it is to count. */
export interface Leaving {
  readonly event: PromiseEvent;
  /** In words: `the logout`. */
  readonly since: string;
  /** Whether it happens in a step. */
  readonly isNow: (view: View) => boolean;
  readonly allowedBy: Path;
  /** What would mend a credential that outlives it, and what would own up to it. */
  readonly owned: (policy: Policy, left: LeftBehind) => Pick<Sight, 'mend' | 'own'>;
}

/** A credential from before something that still counts or opens something after it, but for what is promised of it; null for none. */
export function leftBehindAt(view: View, leaving: Leaving): Sight | null {
  return stillCounts(view, leaving) ?? stillOpens(view, leaving);
}

/** It is told when it is first so: at the event, or once the promised time is over. */
function stillCounts(view: View, { event, since, isNow, allowedBy, owned }: Leaving): Sight | null {
  const isEvent = isNow(view);
  const watched = isEvent ? remembering(view).leftBehind : watchedIn(view);
  if (watched.length === 0) return null;
  const before = isEvent ? view.memory.leftBehind.length : 0;
  for (const [index, left] of watched.entries()) {
    const { after, what, handle, at } = left;
    if (after !== event) continue;
    const bound = view.book.worksAtMost(event, what) ?? 0;
    if (bound === 0 && !(isEvent && index >= before)) continue;
    // Whether it counts is asked first: of one that is over nothing more is asked.
    if (!counts(view.stage, view.played.state, kindOf(handle), handle, view.clock)) continue;
    if (bound > 0 && !view.clock.elapsed(at, bound)) continue;
    return {
      seen: `${copyWords(left)} still counts ${bound === 0 ? '' : `${formatDuration(bound)} `}after ${since}`,
      allowedBy,
      weakness: what,
      ...owned(view.stage.app.policy, left),
    };
  }
  return null;
}

/** Whoever has a copy opens something with it, of which nothing is promised. */
function stillOpens(view: View, { event, since, allowedBy, owned }: Leaving): Sight | null {
  const watched = watchedIn(view);
  if (watched.length === 0) return null;
  for (const exchange of view.played.exchanges) {
    const known = knownBy(view.stage.app.policy, exchange);
    const left = watched.find(({ after, handle }) => after === event && handle === known);
    const { route, request } = exchange;
    if (left === undefined || route === null || !isShown(exchange)) continue;
    if ((view.book.worksAtMost(event, left.what) ?? 0) > 0) continue;
    if (admit(route.grounds.audience, GUEST, route.parameters, view.clock) === 'served') continue;
    return {
      seen: `${copyWords(left)} from before ${since} opens ${request.path}`,
      allowedBy,
      weakness: left.what,
      ...owned(view.stage.app.policy, left),
    };
  }
  return null;
}

import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { formatDuration } from '../time/duration.js';
import { copyWords, counts, kindOf } from '../credentials/counts.js';
import { knownBy } from './descent.js';
import type { Law, Sight, View } from './law.js';
import { isLogout, remembering, watchedIn } from './remembering.js';
import { afterLogout } from './owning.js';
import { isShown } from './shown.js';

/** Nothing from before a logout opens anything after it. */
export const logoutFinal: Law = {
  meta: {
    name: 'logout-final',
    title:
      'After logout, a credential from before it (cookie, token, remember, kept page) still opens something.',
    holds: 'Nothing from before a logout opens anything after it.',
    mend: 'name it in logout.ends',
    weight: 'law',
  },
  broken: (view) => keptPage(view) ?? stillCounts(view) ?? stillOpens(view),
};

/** It is told when it is first so: at the logout, or once the promised time is over. */
function stillCounts(view: View): Sight | null {
  const isOut = isLogout(view);
  const watched = isOut ? remembering(view).leftBehind : watchedIn(view);
  if (watched.length === 0) return null;
  const before = isOut ? view.memory.leftBehind.length : 0;
  for (const [index, left] of watched.entries()) {
    const { after, what, handle, at } = left;
    if (after !== 'logout') continue;
    const bound = view.book.worksAtMost('logout', what) ?? 0;
    if (bound === 0 && !(isOut && index >= before)) continue;
    // Whether it counts is asked first: of one that is over nothing more is asked.
    if (!counts(view.stage, view.played.state, kindOf(handle), handle, view.clock)) continue;
    if (bound > 0 && !view.clock.elapsed(at, bound)) continue;
    const since = bound === 0 ? 'after the logout' : `${formatDuration(bound)} after the logout`;
    return {
      seen: `${copyWords(left)} still counts ${since}`,
      allowedBy: ['logout', 'ends'],
      weakness: what,
      ...afterLogout(view.stage.app.policy, what),
    };
  }
  return null;
}

/** Whoever has a copy opens something with it, of which nothing is promised. */
function stillOpens(view: View): Sight | null {
  const watched = watchedIn(view);
  if (watched.length === 0) return null;
  for (const exchange of view.played.exchanges) {
    const known = knownBy(view.stage.app.policy, exchange);
    const left = watched.find(({ after, handle }) => after === 'logout' && handle === known);
    const { route, request } = exchange;
    if (left === undefined || route === null || !isShown(exchange)) continue;
    if ((view.book.worksAtMost('logout', left.what) ?? 0) > 0) continue;
    if (admit(route.grounds.audience, GUEST, route.parameters, view.clock) === 'served') continue;
    return {
      seen: `${copyWords(left)} from before the logout opens ${request.path}`,
      allowedBy: ['logout', 'ends'],
      weakness: left.what,
      ...afterLogout(view.stage.app.policy, left.what),
    };
  }
  return null;
}

function keptPage({ action, played, memory, browser, stage, clock }: View): Sight | null {
  const { page } = played.browser.tab;
  if (action.verb !== 'back' || played.exchanges.length > 0 || !memory.loggedOut.has(browser)) return null;
  if (page === null || page.reader === null) return null;
  // A page that a guest would be shown anyway opens nothing.
  const route = stage.app.router.find(page.method, page.address.path);
  if (route !== null && admit(route.grounds.audience, GUEST, route.parameters, clock) === 'served') {
    return null;
  }
  return {
    seen: `the back button shows ${page.address.path} of ${page.reader} again`,
    ...(page.kept
      ? { allowedBy: ['back-button'], mend: 'set back-button: no-store' }
      : {
          allowedBy: ['logout', 'clears'],
          mend: 'name session in logout.clears: browsers let go of pages once a cookie changes',
        }),
    weakness: 'kept page',
  };
}

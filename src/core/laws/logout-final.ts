import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { formatDuration } from '../language/duration.js';
import { counts, CREDENTIAL_NAMES } from './counts.js';
import type { Law, Sight, View } from './law.js';
import { remembering } from './memory.js';

/** Nothing from before a logout opens anything after it. */
export const logoutFinal: Law = {
  meta: {
    name: 'logout-final',
    title:
      'After logout, a credential from before it (cookie, token, remember, kept page) still opens something.',
    weight: 'law',
  },
  broken: (view) => keptPage(view) ?? stillCounts(view),
};

/** It is told when it is first so: at the logout, or once the promised time is over. */
function stillCounts(view: View): Sight | null {
  const isLogout = view.action.verb === 'logout';
  const memory = isLogout ? remembering(view) : view.memory;
  if (memory.leftBehind.length === 0) return null;
  const before = isLogout ? view.memory.leftBehind.length : 0;
  for (const [index, { after, what, handle, at }] of memory.leftBehind.entries()) {
    if (after !== 'logout') continue;
    const bound = view.book.worksAtMost('logout', what) ?? 0;
    if (bound === 0 && !(isLogout && index >= before)) continue;
    // Whether it counts is asked first: of one that is over nothing more is asked.
    if (!counts(view.stage, view.played.state, what, handle, view.clock)) continue;
    if (bound > 0 && !view.clock.elapsed(at, bound)) continue;
    const since = bound === 0 ? 'after the logout' : `${formatDuration(bound)} after the logout`;
    return {
      seen: `a copy of the ${CREDENTIAL_NAMES[what]} still counts ${since}`,
      allowedBy: ['logout', 'ends'],
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
    allowedBy: ['back-button'],
  };
}

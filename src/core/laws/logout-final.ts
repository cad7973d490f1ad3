import { admit } from '../app/admit.js';
import { GUEST } from '../app/identify.js';
import { leftBehindAt, type Leaving } from './left-behind.js';
import { isLogout } from './remembering.js';
import { afterLogout } from './owning.js';
import type { Law, Sight, View } from './law.js';
import { hasTrait } from '../steps/asking.js';

/** Nothing from before a logout opens anything after it. */
export const logoutFinal: Law = {
  meta: {
    name: 'logout-final',
    title:
      'After logout, a credential from before it (cookie, token, remember, kept page) still opens something.',
    holds: 'Nothing from before a logout opens anything after it.',
    mend: 'name it in logout.ends',
    needs: { words: 'section logout', isThere: ({ logout }) => logout !== null },
    weight: 'law',
  },
  broken: (view) => keptPage(view) ?? leftBehindAt(view, LOGOUT),
};

const LOGOUT: Leaving = {
  event: 'logout',
  since: 'the logout',
  isNow: isLogout,
  allowedBy: ['logout', 'ends'],
  owned: afterLogout,
};

function keptPage({ action, played, memory, browser, stage, clock }: View): Sight | null {
  const { page } = played.browser.tab;
  if (!hasTrait(action, 'shows-kept') || played.exchanges.length > 0 || !memory.loggedOut.has(browser)) {
    return null;
  }
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

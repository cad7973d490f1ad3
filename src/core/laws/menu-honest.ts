import { admit } from '../app/admit.js';
import { pathOf } from '../app/endpoints.js';
import { knownToScript } from '../browser/script.js';
import type { Law } from './law.js';

/** The menu shows what its reader may see, and only that. */
export const menuHonest: Law = {
  meta: {
    name: 'menu-honest',
    title:
      'A menu shows a link its reader is refused at, or a page open to them is in no menu they see (advice only).',
    holds: 'A menu shows what its reader may see, and only that.',
    mend: 'leave for out: the link is then shown to those who may see its page',
    needs: { words: 'menu', isThere: ({ menu }) => menu.length > 0 },
    weight: 'advice',
  },
  broken: ({ played, stage, book, clock }) => {
    if (!book.menuHasOwnAudiences) return null;
    const last = played.exchanges.findLast(({ response }) => response.body.kind === 'page');
    if (last?.response.body.kind !== 'page') return null;
    const byScript = last.response.body.guard !== null && played.browser.tab.tokens !== null;
    const menu = byScript ? (played.browser.tab.page?.menu ?? []) : last.response.body.menu;
    const visitor = byScript ? knownToScript(stage.client, played.browser, clock) : last.visitor;
    const reader = visitor.account ?? 'a guest';
    for (const link of stage.app.policy.menu) {
      const route = stage.app.router.find('GET', pathOf(link.to));
      if (link.audience === null || route === null || route.page === null) continue;
      const admitted = admit(route.grounds.audience, visitor, route.parameters, clock) === 'served';
      const shown = menu.includes(link.to);
      if (shown && !admitted) {
        return {
          seen: `${reader} is shown the link to ${link.to} and refused there`,
          allowedBy: link.audience.at,
        };
      }
      const open = route.grounds.audience.who === 'everyone' || route.grounds.audience.who === 'guests';
      if (!shown && admitted && !open) {
        return {
          seen: `${link.to} is open to ${reader}, but not in their menu`,
          allowedBy: link.audience.at,
        };
      }
    }
    return null;
  },
};

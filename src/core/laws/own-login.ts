import type { Law } from './law.js';
import { letsIn } from '../play/entries.js';

/** Nobody is signed in by what somebody else asked for. */
export const ownLogin: Law = {
  meta: {
    name: 'own-login',
    title: 'A visitor is signed in by an answer of a provider, or a link, that they did not ask for.',
    holds: 'Nobody is signed in by a link that another browser asked for.',
    mend: 'set link-login.same-browser: true',
    weight: 'law',
  },
  broken: ({ played, stage, memory, browser }) => {
    const rules = stage.app.policy.linkLogin;
    // In one browser the app sees to it.
    if (rules === null || rules.sameBrowser) return null;
    for (const exchange of played.exchanges) {
      const { route, explanation, visitor } = exchange;
      if (route?.task !== 'open-link') continue;
      const isIn = letsIn(exchange) || explanation.reason === 'code-needed';
      const account = explanation.seenAs ?? visitor.account ?? '';
      if (!isIn || memory.linksAsked.has(browser)) continue;
      return {
        seen: `${account === '' ? 'somebody' : account} is signed in by a link that this browser did not ask for`,
        allowedBy: [...rules.at, 'same-browser'],
      };
    }
    return null;
  },
};

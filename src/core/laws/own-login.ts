import { letsIn } from '../play/entries.js';
import type { Exchange } from '../play/stage.js';
import type { Law, Sight, View } from './law.js';
import { plantedBy } from '../steps/asking.js';

/** Nobody is signed in by what somebody else asked for. */
export const ownLogin: Law = {
  meta: {
    name: 'own-login',
    title: 'A visitor is signed in by an answer of a provider, or a link, that they did not ask for.',
    holds: 'Nobody is signed in by a link or an answer that another browser asked for.',
    mend: 'set link-login.same-browser: true',
    needs: {
      words: 'link-login or identity-providers',
      isThere: ({ linkLogin, providers }) => linkLogin !== null || providers.length > 0,
    },
    weight: 'law',
  },
  broken: (view) => byAnswer(view) ?? byLink(view),
};

/** The answer that a provider gave to somebody else is taken. */
function byAnswer({ action, played, stage }: View): Sight | null {
  const planted = plantedBy(action);
  if (planted === null) return null;
  const taken = played.exchanges.find((each) => each.route?.task === 'provider-back' && isIn(each));
  const provider = stage.app.policy.providers.find(({ name }) => name === planted.provider);
  if (taken === undefined || provider === undefined) return null;
  return {
    seen: `a browser is signed in as ${planted.account} by an answer of ${provider.name} that it did not ask for`,
    allowedBy: [...provider.at, 'state'],
    mend: 'set state: checked, pkce: true or nonce: checked for the identity provider',
    weakness: `answer ${provider.name}`,
  };
}

/** A link is good that another browser asked for. */
function byLink({ played, stage, memory, browser }: View): Sight | null {
  const rules = stage.app.policy.linkLogin;
  // In one browser the app sees to it.
  if (rules === null || rules.sameBrowser || memory.linksAsked.has(browser)) return null;
  for (const exchange of played.exchanges) {
    const { route, explanation, visitor } = exchange;
    if (route?.task !== 'open-link' || !isIn(exchange)) continue;
    const account = explanation.seenAs ?? visitor.account ?? '';
    return {
      seen: `${account === '' ? 'somebody' : account} is signed in by a link that this browser did not ask for`,
      allowedBy: [...rules.at, 'same-browser'],
    };
  }
  return null;
}

/** Whether somebody was let in, if only as far as a code is owed. */
function isIn(exchange: Exchange): boolean {
  return letsIn(exchange) || exchange.explanation.reason === 'code-needed';
}

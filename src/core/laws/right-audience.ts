import { admit } from '../app/admit.js';
import { GUEST, type Identity } from '../app/identify.js';
import type { Exchange } from '../walks/stage.js';
import type { Law, Sight, View } from './law.js';

/** Nobody is shown what is not for them, judged by what their account holds now. */
export const rightAudience: Law = {
  meta: {
    name: 'right-audience',
    title:
      'A page or its data is shown to someone outside its audience, judged by the roles the account holds now.',
    weight: 'law',
  },
  broken: (view) => {
    for (const exchange of view.played.exchanges) {
      const { route, response } = exchange;
      if (response.status >= 300 || route === null || route.page === null || route.task !== null) continue;
      // The shell of a page that script guards is given to anybody; its data is judged for itself.
      if (route.page.guard === 'browser') continue;
      const sight = outsideNow(view, exchange) ?? outsidePage(view, exchange);
      if (sight !== null) return sight;
    }
    return null;
  },
};

function outsideNow(view: View, { route, visitor, request }: Exchange): Sight | null {
  if (route === null || visitor.account === null) return null;
  const account = view.played.state.accounts.get(visitor.account);
  if (account?.state === 'active' && account.roles === visitor.roles) return null;
  const now: Identity =
    account?.state === 'active'
      ? { ...visitor, roles: new Set([...visitor.roles].filter((role) => account.roles.has(role))) }
      : GUEST;
  if (admit(route.grounds.audience, now, route.parameters, view.clock) === 'served') return null;
  const change = view.memory.changed.get(visitor.account);
  const bound = change === undefined ? null : view.book.accessLastsAtMost(change.event);
  if (change !== undefined && bound !== null && !view.clock.elapsed(change.at, bound)) return null;
  return {
    seen: `${visitor.account} is shown ${request.path} although the account may not see it any more`,
    allowedBy: visitor.by === 'token' ? ['tokens', 'roles'] : ['session', 'roles'],
  };
}

/** Data is for those whom the page that shows it is for. */
function outsidePage(view: View, { route, visitor, request }: Exchange): Sight | null {
  if (route === null) return null;
  for (const page of view.book.loadersOf(request.method, route)) {
    const stated = page.audiences.read;
    if (stated === null) continue;
    const reason = admit(stated.audience, visitor, route.parameters, view.clock);
    if (reason !== 'role' && reason !== 'guest') continue;
    return {
      seen: `${visitor.account ?? 'a guest'} gets ${request.path}, the data of ${page.pattern.text}, which they may not see`,
      allowedBy: route.grounds.at,
    };
  }
  return null;
}

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
      if (!isShown(exchange)) continue;
      const sight = outsideNow(view, exchange) ?? outsidePage(view, exchange);
      if (sight !== null) return sight;
    }
    return null;
  },
};

/** Whether a page or data that is guarded was shown. The shell of a page that script guards is given to anybody. */
export function isShown({ route, response }: Exchange): boolean {
  if (response.status >= 300 || route === null || route.page === null || route.task !== null) return false;
  return route.page.guard !== 'browser';
}

function outsideNow(view: View, exchange: Exchange): Sight | null {
  if (!isOutsideNow(view, exchange)) return null;
  const { visitor, request } = exchange;
  const change = view.memory.changed.get(visitor.account ?? '');
  const bound = change === undefined ? null : view.book.worksAtMost(change.event, credentialOf(visitor));
  if (change !== undefined && bound !== null && !view.clock.elapsed(change.at, bound)) return null;
  return {
    seen: `${visitor.account} is shown ${request.path} although the account may not see it any more`,
    allowedBy: visitor.by === 'token' ? ['tokens', 'roles'] : ['session', 'roles'],
  };
}

/** Whether what was shown is not for the visitor's account as it is now. */
export function isOutsideNow({ played, clock }: View, { route, visitor }: Exchange): boolean {
  if (route === null || visitor.account === null) return false;
  const account = played.state.accounts.get(visitor.account);
  if (account?.state === 'active' && account.roles === visitor.roles) return false;
  const now: Identity =
    account?.state === 'active'
      ? { ...visitor, roles: new Set([...visitor.roles].filter((role) => account.roles.has(role))) }
      : GUEST;
  return admit(route.grounds.audience, now, route.parameters, clock) !== 'served';
}

/** The credential that a visitor was known by. */
export function credentialOf({ by }: Identity): 'access' | 'session' {
  return by === 'token' ? 'access' : 'session';
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

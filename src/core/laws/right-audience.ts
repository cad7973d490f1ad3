import { CREDENTIAL_KINDS } from '../credentials/all-credentials.js';
import { admit } from '../app/admit.js';
import type { Reason } from '../app/reasons.js';
import { apartFromPath } from '../audience/all-conditions.js';
import type { Identity } from '../app/identify.js';
import { formatDuration } from '../time/duration.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import type { Exchange } from '../play/stage.js';
import { strictest } from './law-book.js';
import type { Law, Sight, View } from './law.js';
import { promisesOn } from './promises.js';
import { isOutsideNow, isShown } from './shown.js';

/** Nobody is shown what is not for them, judged by what their account holds now. */
export const rightAudience: Law = {
  meta: {
    name: 'right-audience',
    title:
      'A page or its data is shown to someone outside its audience, judged by the roles the account holds now.',
    holds: 'Nobody is shown what is not for them, judged by the roles that they hold now.',
    mend: 'read roles anew: session.roles: each-request, tokens.roles: each-request',
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

function outsideNow(view: View, exchange: Exchange): Sight | null {
  if (!isOutsideNow(view, exchange)) return null;
  const { visitor, request } = exchange;
  const change = view.memory.changed.get(visitor.account ?? '');
  const bound = change === undefined ? null : strictest(promisesOn(view, exchange, change.event));
  if (change !== undefined && bound !== null && !view.clock.elapsed(change.at, bound)) return null;
  const isActive = view.played.state.accounts.get(visitor.account ?? '')?.state === 'active';
  return {
    seen: `${visitor.account} is shown ${request.path} although the account may not see it any more`,
    // Told by what the account is now, which is known also where nothing is promised of how it came to be so.
    weakness: `${isActive ? 'roles' : 'account'} ${visitor.by ?? ''}`,
    ...rolesFrom(view, visitor, change?.event ?? null),
  };
}

/** Reasons for which nothing that somebody can do on the spot opens a page. */
const CLOSES: ReadonlySet<Reason> = new Set(['role', 'guest', 'flag', 'joined-long-ago']);

/** Data is for those whom one of the pages that show it is for. */
function outsidePage(view: View, { route, visitor, request }: Exchange): Sight | null {
  if (route === null) return null;
  const loaders = view.book.loadersOf(request.method, route);
  const [first] = loaders;
  const isClosed = loaders.every(({ audience }) =>
    // Data at one address for all may be of whoever asks.
    CLOSES.has(admit(apartFromPath(audience), visitor, route.parameters, view.clock)),
  );
  if (first === undefined || !isClosed) return null;
  return {
    seen: `${visitor.account ?? 'a guest'} gets ${request.path}, the data of ${first.page.pattern.text}, which they may not see`,
    allowedBy: route.grounds.at,
    mend: `give the data the audience of the page that shows it, ${first.page.pattern.text}`,
  };
}

/** Where the roles of a visitor come from, what would mend it and what would own up to it. */
function rolesFrom(
  { stage: { app } }: View,
  { by }: Identity,
  event: PromiseEvent | null,
): Pick<Sight, 'allowedBy' | 'mend' | 'own'> {
  const what = by === 'token' ? ('access' as const) : ('session' as const);
  const longest = CREDENTIAL_KINDS[what].longest(app.policy);
  const bound = longest === null ? 'a time' : formatDuration(longest);
  const section = what === 'access' ? 'tokens' : 'session';
  const byRole = app.policy.logins.find(({ asRole }) => asRole);
  return {
    allowedBy: [section, 'roles'],
    // A session that was begun in one of the account's roles has no other, however often they are read.
    mend:
      byRole !== undefined && app.policy[section]?.roles === 'each-request'
        ? `leave ${byRole.at.join('.')}.as-role out, so that whoever logs in has all roles of the account`
        : `set ${section}.roles: each-request`,
    ...(event === null ? {} : { own: `promises: { after: ${event}, access-lasts-at-most: ${bound} }` }),
  };
}

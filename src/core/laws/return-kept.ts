import { closedWhileActing } from '../app/acting.js';
import { admit } from '../app/admit.js';
import { indexOf } from '../app/app.js';
import { sentPath } from '../app/endpoints.js';
import { sessionFault } from '../app/identify.js';
import { addressReader } from '../http/address.js';
import { handleOf } from '../credentials/holdings.js';
import type { Login } from '../language/policy.js';
import { letsIn } from '../play/entries.js';
import type { Law, View } from './law.js';
import { opensFormAnew } from './remembering.js';

/** After a login people get where they wanted to go. */
export const returnKept: Law = {
  meta: {
    name: 'return-kept',
    title: 'After a login, a visitor who asked for a page they may see does not get there.',
    holds: 'Whoever asked for a page gets there after the login.',
    mend: 'set login.return.accept: same-origin, or list the page',
    needs: { words: 'login.return', isThere: ({ logins }) => logins.some((each) => each.return !== null) },
    weight: 'law',
  },
  broken: (view) => {
    const { played, browser, memory, stage, clock } = view;
    const asked = memory.asked.get(browser);
    const rules = loginTried(view)?.return ?? null;
    if (asked === undefined || rules === null || rules.accept === 'never' || opensFormAnew(view)) return null;
    if (rules.kept === 'session' && waitingIn(view) !== asked) return null;
    const { exchanges } = played;
    const entry = exchanges.find(letsIn);
    const read = addressReader(stage.app.policy.routing);
    const isAsked = (address: string) => address === asked || read(address) === read(asked);
    if (entry === undefined || isAsked(view.outcome.lands ?? '')) return null;
    // Being sent on from the page is getting there.
    if (exchanges.some(({ request }) => isAsked(request.path + request.query))) return null;
    const route = stage.app.router.find('GET', sentPath(asked));
    const visitor = exchanges.at(-1)?.visitor;
    if (visitor === undefined || visitor.account === null) return null;
    // What the page does not answer is shown to nobody.
    if (route === null || route.page === null || !route.isAnswered) return null;
    const { policy, router } = stage.app;
    if (closedWhileActing(policy.impersonation, router, route, visitor) >= 0) return null;
    if (admit(route.grounds.audience, visitor, route.parameters, clock) !== 'served') return null;
    return {
      seen: `${visitor.actedBy ?? visitor.account} asked for ${asked} and lands at ${view.outcome.lands ?? 'no page'}`,
      allowedBy: entry.explanation.decidedBy,
      ...(rules.kept === 'session' && !rules.carriedOver
        ? { mend: 'set login.return.carried-over: true' }
        : {}),
    };
  },
};

/** The login through which somebody came, as the form or the code says; the first for a sign-up. */
function loginTried({ played, before, from, stage, clock }: View): Login | null {
  const tried = played.exchanges.find(({ route }) => route?.task === 'login')?.route?.login;
  if (tried) return tried;
  const record = before.sessions[indexOf('session', handleOf(stage, from, 'session', clock) ?? '')];
  const { logins, login } = stage.app.policy;
  return logins[record?.code?.by ?? 0] ?? login;
}

/** The address that waits in the session of the browser; null where that is over, and the address with it. */
function waitingIn({ stage, from, before, clock }: View): string | null {
  const record = before.sessions[indexOf('session', handleOf(stage, from, 'session', clock) ?? '')];
  return record === undefined || sessionFault(stage.app, before, record, clock) !== null
    ? null
    : record.asked;
}

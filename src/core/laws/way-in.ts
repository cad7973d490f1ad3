import { admit } from '../app/admit.js';
import { barrierBefore, stops } from '../app/barriers.js';
import type { Clock } from '../time/clock.js';
import type { Exchange } from '../play/stage.js';
import { heldCounting } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import type { Law, Sight, View } from './law.js';
import { lostCookie } from './lost-cookies.js';
import { entrantOf } from '../steps/asking.js';

/** A guest can log in, and then is. */
export const wayIn: Law = {
  meta: {
    name: 'way-in',
    title: 'A guest in some reachable state has no way to log in, or logs in and is a guest again.',
    holds: 'A guest can log in, and is signed in by it.',
    mend: 'give the login page for: guests',
    needs: { words: 'section login', isThere: ({ login }) => login !== null },
    weight: 'law',
  },
  broken(view) {
    const closed = formClosed(view);
    const entrant = entrantOf(view.action);
    if (closed !== null || entrant === null) return closed;
    return shutOut(view, entrant.account) ?? notLetIn(view);
  },
};

function formClosed(view: View): Sight | null {
  const [closed] = view.book.closedLogins;
  if (closed === undefined || view.outcome.seenAs !== 'guest') return null;
  return { seen: `a guest cannot see the login form at ${closed.page}`, allowedBy: [...closed.at, 'page'] };
}

/** A barrier stops a guest on the way to the login of an account that it would not stop. */
function shutOut({ stage, before, played, clock }: View, name: string): Sight | null {
  const account = before.accounts.get(name);
  if (account?.state !== 'active') return null;
  for (const { explanation, route, visitor } of played.exchanges) {
    if (explanation.reason !== 'barrier' || visitor.account !== null || route === null) continue;
    if (route.login === null && route.task !== 'login') continue;
    const { roles, facts } = account;
    const known = { ...visitor, account: name, roles, facts, since: clock.now, secondFactor: true };
    const barrier = barrierBefore(stage.app, route, visitor, clock);
    if (barrier === null || stops(barrier, known, route, clock)) continue;
    return {
      seen: `${name}, whom the barrier ${barrier.name} does not stop, cannot log in while it stands`,
      allowedBy: [...barrier.at, 'also'],
      weakness: `barrier ${barrier.name}`,
      mend: 'leave login out of also, or let the login through by lets',
    };
  }
  return null;
}

function notLetIn({ played, stage, clock }: View): Sight | null {
  const { exchanges, browser, state } = played;
  const refused = exchanges.find((exchange) => isRefusedForm(exchange, clock));
  if (refused !== undefined) {
    const { request, explanation, route } = refused;
    return {
      seen: `a guest is refused when sending the login form to ${request.path}: ${explanation.reason}`,
      allowedBy: route?.grounds.at ?? [],
    };
  }
  const entry = exchanges.find(letsIn);
  if (entry === undefined || heldCounting(stage, state, browser, clock) !== null) return null;
  const { how, allowedBy, mend } = lostCookie(stage.app.policy, played, entry);
  const who = entry.explanation.seenAs ?? '';
  return { seen: `${who} logs in rightly and is a guest again: ${how}`, allowedBy, mend };
}

/** Whether a login form is refused to a guest before it is looked at. */
function isRefusedForm({ route, visitor, explanation }: Exchange, clock: Clock): boolean {
  if (route?.task !== 'login' || visitor.account !== null || explanation.reason === 'insecure-scheme') {
    return false;
  }
  return admit(route.grounds.audience, visitor, route.parameters, clock) !== 'served';
}

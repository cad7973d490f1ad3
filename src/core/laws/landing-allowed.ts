import type { Reason } from '../app/reasons.js';
import type { Exchange } from '../play/stage.js';
import { letsIn } from '../play/entries.js';
import type { Law, Sight, View } from './law.js';
import { lostCookie } from './lost-cookies.js';

/** Whoever is landed somewhere is let in there. */
export const landingAllowed: Law = {
  meta: {
    name: 'landing-allowed',
    title: 'A login, sign-up, logout or landing sends someone to a page that refuses them.',
    holds: 'Whoever is landed somewhere is let in there.',
    mend: 'add a landing entry for them with a page that is open to them',
    weight: 'law',
  },
  broken: (view) => refusedLanding(view, false),
};

/**
 * A landing at which somebody is refused.
 *
 * @param hasLostRoles whether it is to be one of somebody who was left without any role
 */
export function refusedLanding(view: View, hasLostRoles: boolean): Sight | null {
  const { exchanges } = view.played;
  for (let at = 1; at < exchanges.length; at++) {
    const sender = exchanges[at - 1];
    const target = exchanges[at];
    if (sender === undefined || target === undefined || !REFUSALS.has(target.explanation.reason)) continue;
    // A form that another site sends goes without the cookie, and what follows it goes with it: that lands nobody.
    if (sender.explanation.seenAs === null && target.explanation.seenAs !== null) continue;
    if (!lands(sender) || isWithoutRoles(view, sender.explanation.seenAs) !== hasLostRoles) continue;
    return {
      seen: `${sender.explanation.seenAs ?? 'a guest'} is sent from ${sender.request.path} to ${target.request.path} and refused there: ${target.explanation.reason}`,
      allowedBy: sender.explanation.decidedBy,
      ...mendOf(view, sender, target),
    };
  }
  return null;
}

/** Where something else than an entry of the landing has sent them there, or they would be let in there with their cookie. */
function mendOf({ stage, played }: View, sender: Exchange, target: Exchange): Pick<Sight, 'mend'> {
  const at = sender.explanation.decidedBy;
  // Tokens alone are of no use to a page either: that is no matter of cookies.
  const isLost = sender.explanation.cookieWithheld === true || played.refusedCookies.length > 0;
  if (isLost && letsIn(sender) && target.explanation.seenAs === null) {
    return { mend: lostCookie(stage.app.policy, played, sender).mend };
  }
  if (at.at(-1) === 'return') return { mend: `set ${at.join('.')}.only-if-allowed: true` };
  return at.at(-1) === 'lands' ? { mend: `set ${at.join('.')} to a page that is open to them` } : {};
}

/** Whether all roles were taken from an account to which the policy gives some. */
export function isWithoutRoles({ stage, played }: View, name: string | null): boolean {
  const given = stage.app.policy.accounts.get(name ?? '');
  return (
    given !== undefined && given.roles.size > 0 && played.state.accounts.get(given.name)?.roles.size === 0
  );
}

const REFUSALS = new Set<Reason>(['role', 'not-owner', 'guest', 'guests-only', 'signed-out']);
const TASKS = new Set(['login', 'sign-up', 'code', 'logout']);
const DONE = new Set<Reason>(['served', 'unsafe-return']);

/** Whether a request ends in a landing. */
function lands({ route, explanation, response }: Exchange): boolean {
  if (response.location === null && response.body.kind !== 'tokens') return false;
  if (explanation.reason === 'forwarded' || explanation.reason === 'guests-only') return true;
  return TASKS.has(route?.task ?? '') && DONE.has(explanation.reason);
}

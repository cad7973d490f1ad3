import type { Exchange } from '../play/stage.js';
import { letsIn } from '../play/entries.js';
import { isWithoutRoles } from './landing-allowed.js';
import type { Law, Sight, View } from './law.js';
import { callsOf } from '../steps/asking.js';

/** Whoever is sent somewhere finds something there. */
export const targetsExist: Law = {
  meta: {
    name: 'targets-exist',
    title: 'A redirect, or what a page loads, lands on 404 or 405.',
    holds: 'Whoever is sent somewhere finds a page there.',
    mend: 'add the page under pages, or send people to one that exists',
    weight: 'law',
  },
  broken: (view) => {
    const { exchanges } = view.played;
    for (let at = 0; at < exchanges.length; at++) {
      const target = exchanges[at];
      if (target === undefined) continue;
      const sight = landsNowhere(view, target, false) ?? missing(view, at, target);
      if (sight !== null) return sight;
    }
    return null;
  },
};

/**
 * Somebody is let in, and there is no landing for them.
 *
 * @param hasLostRoles whether it is to be somebody who was left without any role
 */
export function landsNowhere(view: View, exchange: Exchange, hasLostRoles: boolean): Sight | null {
  if (exchange.response.status !== 404 || !letsIn(exchange)) return null;
  if (isWithoutRoles(view, exchange.explanation.seenAs) !== hasLostRoles) return null;
  return {
    seen: `${exchange.request.path} lets ${exchange.explanation.seenAs ?? ''} in and answers 404: no landing is for them`,
    allowedBy: exchange.explanation.decidedBy,
    mend: 'end landing in { otherwise: a page for signed-in }',
  };
}

function missing({ action, played: { exchanges } }: View, at: number, target: Exchange): Sight | null {
  const { reason } = target.explanation;
  if (reason !== 'unknown-page' && reason !== 'method-not-allowed') return null;
  // Sending the same to https is no choice of a target.
  let before = at - 1;
  while (exchanges[before]?.explanation.reason === 'insecure-scheme') before -= 1;
  const sender = exchanges[before];
  if (sender === undefined) return null;
  const seen = `${target.request.path}, which answers ${target.response.status}`;
  const allowedBy = sender.explanation.decidedBy;
  if (target.purpose === 'call') {
    const own = exchanges[0]?.request;
    const isOwn = own?.path === target.request.path && own.method === target.request.method;
    if (isOwn || callsOf(action) !== null) return null;
    const page = exchanges.slice(0, at).findLast(({ purpose }) => purpose === 'navigate');
    return page === undefined
      ? null
      : { seen: `${page.request.path} loads ${seen}`, allowedBy: page.route?.page?.at ?? [] };
  }
  if (sender.response.location === null && target.request.method !== 'GET') return null;
  // The address that the visitor asked for first may well be none: that is theirs, not the app's.
  const asked = sender.request.form.size > 0 && sender.explanation.decidedBy[1] === 'return';
  return asked ? null : { seen: `${sender.request.path} sends the visitor to ${seen}`, allowedBy };
}

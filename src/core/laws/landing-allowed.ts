import type { Reason } from '../app/reasons.js';
import type { Exchange } from '../walks/stage.js';
import type { Law } from './law.js';

/** Whoever is landed somewhere is let in there. */
export const landingAllowed: Law = {
  meta: {
    name: 'landing-allowed',
    title: 'A login, sign-up, logout or landing sends someone to a page that refuses them.',
    weight: 'law',
  },
  broken: ({ played: { exchanges } }) => {
    for (let at = 1; at < exchanges.length; at++) {
      const sender = exchanges[at - 1];
      const target = exchanges[at];
      if (sender === undefined || target === undefined || !lands(sender)) continue;
      if (!REFUSALS.has(target.explanation.reason)) continue;
      return {
        seen: `${sender.explanation.seenAs ?? 'a guest'} is sent from ${sender.request.path} to ${target.request.path} and refused there: ${target.explanation.reason}`,
        allowedBy: sender.explanation.decidedBy,
      };
    }
    return null;
  },
};

const REFUSALS = new Set<Reason>(['role', 'not-owner', 'guest', 'guests-only', 'signed-out']);
const TASKS = new Set(['login', 'sign-up', 'code', 'logout']);
const DONE = new Set<Reason>(['served', 'unsafe-return']);

/** Whether a request ends in a landing. */
function lands({ route, explanation, response }: Exchange): boolean {
  if (response.location === null && response.body.kind !== 'tokens') return false;
  if (explanation.reason === 'forwarded' || explanation.reason === 'guests-only') return true;
  return TASKS.has(route?.task ?? '') && DONE.has(explanation.reason);
}

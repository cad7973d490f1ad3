import { rolesIn } from '../app/identify.js';
import { SESSION_LIMITS } from '../app/session-limits.js';
import { lifeBy } from '../language/session-lives.js';
import { bearerIndex } from '../app/identify.js';
import type { Exchange } from '../play/stage.js';
import type { Law, Sight, View } from './law.js';

/** What is over opens nothing. */
export const expiryFinal: Law = {
  meta: {
    name: 'expiry-final',
    title: 'A credential past its end still opens something.',
    holds: 'What is over opens nothing.',
    mend: 'this is a fault of Cavrin: please report it',
    weight: 'law',
  },
  broken: (view) => {
    // Only what was there before the step can be over in it: what it hands out is new.
    const first = view.played.exchanges[0];
    return first === undefined ? null : overdue(view, first);
  },
};

function overdue({ before, stage, clock }: View, { visitor, request }: Exchange): Sight | null {
  const { tokens } = stage.app.policy;
  if (visitor.account === null) return null;
  if (visitor.by === 'token' && tokens !== null) {
    const token = before.accessTokens[bearerIndex(request.authorization)];
    const end = tokens.access.life + tokens.access.leeway;
    if (token === undefined || !clock.elapsed(token.issuedAt, end)) return null;
    return { seen: `an access token past its end opens ${request.path}`, allowedBy: ['tokens', 'access'] };
  }
  // Somebody who was known again by a remember cookie has a session that began in this step.
  const record = before.sessions[visitor.session];
  if (record === undefined) return null;
  const roles = rolesIn(stage.app, before, record);
  const over = SESSION_LIMITS.toReversed().find((limit) => {
    const life = lifeBy(limit.option, stage.app.policy, roles);
    return life !== null && clock.elapsed(limit.since(record), life);
  });
  if (over === undefined) return null;
  return {
    seen: `a session past its ${over.option} limit opens ${request.path}`,
    allowedBy: ['session', over.option],
  };
}

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
  const { session, tokens } = stage.app.policy;
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
  const idle = session.idle !== null && clock.elapsed(record.activeAt, session.idle);
  const absolute = session.absolute !== null && clock.elapsed(record.startedAt, session.absolute);
  if (!idle && !absolute) return null;
  return {
    seen: `a session past its ${idle ? 'idle' : 'absolute'} limit opens ${request.path}`,
    allowedBy: ['session', idle ? 'idle' : 'absolute'],
  };
}

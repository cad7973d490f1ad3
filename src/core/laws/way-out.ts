import { admit } from '../app/admit.js';
import type { Law } from './law.js';

/** Whoever is signed in can log out. */
export const wayOut: Law = {
  meta: {
    name: 'way-out',
    title: 'A signed-in visitor has no way to log out.',
    holds: 'Whoever is signed in can log out.',
    mend: 'add logout, or let its submit be for everyone',
    weight: 'law',
  },
  broken: ({ played, stage, book, clock }) => {
    const last = played.exchanges.at(-1);
    if (last === undefined || last.visitor.account === null) return null;
    const submit = stage.app.policy.logout?.submits[0];
    if (submit === undefined) return { seen: `${last.visitor.account} cannot log out at all`, allowedBy: [] };
    const route = book.wayOut;
    if (route !== null && route.grounds.audience.who === 'everyone') return null;
    const admitted = route && admit(route.grounds.audience, last.visitor, route.parameters, clock);
    if (admitted === 'served') return null;
    return {
      seen: `${last.visitor.account} is refused at ${submit.path}`,
      allowedBy: route?.grounds.at ?? submit.at,
    };
  },
};

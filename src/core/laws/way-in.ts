import type { Law } from './law.js';

/** A guest can log in. */
export const wayIn: Law = {
  meta: { name: 'way-in', title: 'A guest in some reachable state has no way to log in.', weight: 'law' },
  broken: ({ outcome, book, stage }) => {
    const { login } = stage.app.policy;
    if (outcome.seenAs !== 'guest' || login === null || book.guestsCanLogIn) return null;
    return { seen: `a guest cannot see the login form at ${login.page}`, allowedBy: ['login', 'page'] };
  },
};

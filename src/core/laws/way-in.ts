import type { Law } from './law.js';

/** A guest can log in. */
export const wayIn: Law = {
  meta: { name: 'way-in', title: 'A guest in some reachable state has no way to log in.', weight: 'law' },
  broken: (view) => {
    const { login } = view.stage.app.policy;
    if (view.book.guestsCanLogIn || login === null || view.outcome.seenAs !== 'guest') return null;
    return { seen: `a guest cannot see the login form at ${login.page}`, allowedBy: ['login', 'page'] };
  },
};

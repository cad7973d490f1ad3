import { cookieValue } from '../http/cookies.js';
import { counts } from '../credentials/counts.js';
import { letsIn } from '../play/entries.js';
import type { Law } from './law.js';

/** A login gives a new session id, and the old one is worth nothing. */
export const newId: Law = {
  meta: {
    name: 'new-id',
    title: 'A session id from before the login is still good after it.',
    holds: 'A login gives a new session id, and the old one is worth nothing.',
    mend: 'set login.renew-session-id: true',
    needs: { words: 'section login', isThere: ({ login }) => login !== null },
    weight: 'law',
  },
  broken: ({ played, stage, clock }) => {
    const keeping = stage.app.policy.logins.find(({ renewSessionId }) => !renewSessionId);
    const entry = played.exchanges.find(letsIn);
    if (entry === undefined) return null;
    const shown = cookieValue(entry.request.cookie, stage.app.policy.session.cookie.name);
    if (shown === null || !counts(stage, played.state, 'session', shown, clock)) return null;
    const at = keeping?.at ?? ['login'];
    return {
      seen: `the session id that the browser had before the login of ${entry.explanation.seenAs ?? ''} counts after it`,
      allowedBy: [...at, 'renew-session-id'],
      mend: `set ${at.join('.')}.renew-session-id: true`,
    };
  },
};

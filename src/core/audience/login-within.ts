import { within } from './within.js';

/** Logged in not too long ago. */
export const loginWithin = within({
  key: 'login-within',
  reason: 'stale-login',
  words: 'with a login',
  since: (visitor) => visitor.since,
  now: (_life, since) => ({ step: { change: 'log-in-again' }, after: { since } }),
});

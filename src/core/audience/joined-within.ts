import { within } from './within.js';

/** Has an account that was made not too long ago. */
export const joinedWithin = within({
  key: 'joined-within',
  reason: 'joined-long-ago',
  words: 'who joined',
  since: (visitor) => visitor.joinedAt,
  now: (life, joinedAt) => ({ step: { change: 'join-lately', within: life }, after: { joinedAt } }),
});

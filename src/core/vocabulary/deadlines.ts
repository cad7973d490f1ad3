import { wordsOf } from './tables.js';

/** The ends that a walk can wait for, each with the key of the policy that sets it. */
const TABLE = {
  'session-idle': 'session.idle',
  'session-absolute': 'session.absolute',
  'access-expiry': 'tokens.access',
  'refresh-expiry': 'tokens.refresh',
  'code-expiry': 'second-factor.life',
  'attempts-pause': 'login.attempts',
  'remember-expiry': 'remember',
} as const;

export type Deadline = keyof typeof TABLE;

export const DEADLINES = wordsOf(TABLE);

/** The key of the policy that sets a deadline. */
export function keyOfDeadline(deadline: Deadline): string {
  return TABLE[deadline];
}

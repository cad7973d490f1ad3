import type { Instant } from '../time/clock.js';
import type { Deadline } from '../vocabulary/deadlines.js';
import type { SessionRecord } from './app.js';
import type { Reason } from './reasons.js';

/** An age at which a session is over. */
export interface SessionLimit {
  /** The option that sets it, as reports call it too. */
  readonly option: 'idle' | 'absolute';
  readonly deadline: Deadline;
  /** Why somebody whose session has reached it is not known any more. */
  readonly reason: Reason;
  /** Since when its age counts. */
  since(record: SessionRecord): Instant;
}

/** Every limit of a session. Where several are reached, the first says why. */
export const SESSION_LIMITS: readonly SessionLimit[] = [
  {
    option: 'absolute',
    deadline: 'session-absolute',
    reason: 'absolute-expired',
    since: ({ startedAt }) => startedAt,
  },
  { option: 'idle', deadline: 'session-idle', reason: 'idle-expired', since: ({ activeAt }) => activeAt },
];

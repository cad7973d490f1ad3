import { askedBy } from '../audience/all-conditions.js';
import type { Clock } from '../time/clock.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Identity } from './identify.js';
import type { Reason } from './reasons.js';

/** Whether a visitor is in an audience: `served` when they are, else why not. */
export function admit(
  audience: Audience,
  visitor: Identity,
  parameters: ReadonlyMap<string, string>,
  clock: Clock,
): Reason {
  if (audience.who === 'everyone') return 'served';
  // No login would help a guest either.
  if (audience.who === 'nobody') return 'role';
  if (audience.who === 'guests') return visitor.account === null ? 'served' : 'guests-only';
  if (visitor.account === null) return visitor.reason;
  if (audience.who !== 'some') return 'served';
  const where = { parameters, clock };
  for (const { condition, value } of askedBy(audience)) {
    if (!condition.admits(value, visitor, where)) return condition.reason;
  }
  return 'served';
}

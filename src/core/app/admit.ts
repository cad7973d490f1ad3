import type { Clock } from '../time/clock.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Identity } from './identify.js';
import { hasFacts } from './landing.js';
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
  const { any, all, none, account, facts, flags, joinedWithin, secondFactor, loginWithin } = audience;
  const roles = visitor.roles;
  if (any !== null && !any.some((role) => roles.has(role))) return 'role';
  if (!all.every((role) => roles.has(role)) || none.some((role) => roles.has(role))) return 'role';
  if (facts.size > 0 && !hasFacts(visitor.facts, facts, parameters)) return 'role';
  if (account !== null && parameters.get(account) !== visitor.account) return 'not-owner';
  for (const [flag, on] of flags) if (visitor.flags.has(flag) !== on) return 'flag';
  if (joinedWithin !== null && (visitor.joinedAt === null || clock.elapsed(visitor.joinedAt, joinedWithin))) {
    return 'joined-long-ago';
  }
  if (secondFactor && !visitor.secondFactor) return 'code-needed';
  const stale = loginWithin !== null && (visitor.since === null || clock.elapsed(visitor.since, loginWithin));
  return stale ? 'stale-login' : 'served';
}

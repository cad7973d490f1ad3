import type { Audience } from '../language/policy.js';
import type { Reason } from './reasons.js';
import type { Identity } from './identify.js';

/** Whether a visitor is in an audience: `served` when they are, else why not. */
export function admit(
  audience: Audience,
  visitor: Identity,
  parameters: ReadonlyMap<string, string>,
): Reason {
  if (audience.who === 'everyone') return 'served';
  if (audience.who === 'guests') return visitor.account === null ? 'served' : 'guests-only';
  if (visitor.account === null) return visitor.reason;
  if (audience.who !== 'some') return 'served';
  const { any, all, none, account } = audience;
  const roles = visitor.roles;
  if (any !== null && !any.some((role) => roles.has(role))) return 'role';
  if (!all.every((role) => roles.has(role)) || none.some((role) => roles.has(role))) return 'role';
  return account === null || parameters.get(account) === visitor.account ? 'served' : 'not-owner';
}

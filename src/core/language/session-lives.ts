import type { Seconds } from '../time/duration.js';
import type { Policy } from './policy.js';

/** An option that limits the life of a session. */
export type SessionOption = 'idle' | 'absolute';

/** How long a session of somebody who holds some roles may be of that age; null where the policy sets no such limit. */
export function lifeBy(
  option: SessionOption,
  { session }: Policy,
  roles: ReadonlySet<string>,
): Seconds | null {
  const ofRole = session['by-role'].find(({ role }) => roles.has(role));
  return ofRole?.[option] ?? session[option];
}

/** Every length that a limit has, whatever roles somebody holds; null for none. */
export function livesBy(option: SessionOption, { session }: Policy): (Seconds | null)[] {
  return [session[option], ...session['by-role'].map((ofRole) => ofRole[option] ?? session[option])];
}

/** The longest that a limit may be; null where it may not be there at all. */
export function longestBy(option: SessionOption, policy: Policy): Seconds | null {
  const lives = livesBy(option, policy).filter((life) => life !== null);
  return lives.length < 1 + policy.session['by-role'].length ? null : Math.max(...lives);
}

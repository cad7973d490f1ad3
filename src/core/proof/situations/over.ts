// Step 2 of docs/proof-method.md: situations and moves.

import type { AccessToken } from '../../app/app.js';
import type { Cookie } from '../../browser/cookie-jar.js';
import { counts, kindOf } from '../../credentials/counts.js';
import type { LeftBehind } from '../../laws/memory.js';
import type { Stage } from '../../play/stage.js';
import type { Situation } from './situation.js';
import type { Limits } from '../time/limits.js';
import { EarliestClock } from '../time/symbolic-clock.js';
import type { Zone } from '../time/zone.js';

/** Whether a cookie is over at every time that can be: it has been evicted (RFC 6265bis §5.7). */
export function isEvicted({ life, storedAt }: Cookie, zone: Zone): boolean {
  return life !== null && zone.ages(storedAt).least >= life;
}

/** Whether an access token is over at every time that can be. */
export function isTokenOver({ issuedAt }: AccessToken, zone: Zone, { accessIssued }: Limits): boolean {
  return zone.ages(issuedAt).least >= accessIssued;
}

/** What was left behind, without credentials that will never count again: all that counts later counts at the earliest. */
export function stillWatched(
  stage: Stage,
  { memory: { leftBehind }, state, zone }: Situation,
): readonly LeftBehind[] {
  if (leftBehind.length === 0) return leftBehind;
  const clock = new EarliestClock(zone);
  return leftBehind.filter(({ handle }) => counts(stage, state, kindOf(handle), handle, clock));
}

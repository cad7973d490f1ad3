import type { AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Policy } from '../language/policy.js';
import type { Stage } from '../play/stage.js';
import { FixedClock } from '../time/clock.js';
import type { Seconds } from '../time/duration.js';
import type { Deadline } from '../vocabulary/deadlines.js';
import { CREDENTIAL_KINDS } from './all-credentials.js';
import { endOf, heldHandle, numberOf, type CredentialKind, type Limit } from './credential-kind.js';

/** The limit that ends at each deadline, of the credential that has it. */
const LIMITS: ReadonlyMap<Deadline, { readonly kind: CredentialKind; readonly limit: Limit }> = new Map(
  Object.values(CREDENTIAL_KINDS).flatMap((kind) =>
    kind.limits.flatMap((limit) => (limit.deadline === null ? [] : [[limit.deadline, { kind, limit }]])),
  ),
);

/**
 * The first second at which a credential that the browser holds no longer counts for the app; null where the browser
 * holds none or the policy sets no such limit.
 */
export function deadlineOf(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  deadline: Deadline,
  now: Seconds,
): Seconds | null {
  const { policy } = stage.app;
  const ending = LIMITS.get(deadline);
  if (ending === undefined) return endOfPause(policy, state);
  const held = heldHandle(ending.kind, stage, browser, new FixedClock(now));
  return endOf(ending.limit, stage.app, state, numberOf(ending.kind, held));
}

/** Whether a policy has what ends at a deadline. */
export function hasDeadline(policy: Policy, deadline: Deadline): boolean {
  const ending = LIMITS.get(deadline);
  if (ending === undefined) return policy.logins.some(({ attempts }) => attempts !== null);
  return ending.limit.life(policy) !== null;
}

/** When nobody is locked out any more: the one deadline that is not of anything that a browser holds. */
function endOfPause({ logins }: Policy, state: AppState): Seconds | null {
  const paused = [...state.attempts.values()].map((each) => each.pausedAt).filter((at) => at !== null);
  const pauses = logins.flatMap(({ attempts }) => attempts?.pause ?? []);
  return paused.length === 0 || pauses.length === 0 ? null : Math.max(...paused) + Math.max(...pauses);
}

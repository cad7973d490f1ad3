import type { Credential } from '../vocabulary/credentials.js';
import { changed, type App, type AppState } from './app.js';
import type { Reason } from './reasons.js';
import { withEnded } from './remembered.js';
import { endSession } from './sessions.js';
import { endFamily } from './tokens.js';

/** What is so of a session, a family of tokens and a remember token alike. */
export interface Owned {
  readonly account: string | null;
  readonly login: number;
}

/**
 * Stops honouring what was handed out, of the kinds that are named and for whom it is said.
 *
 * @param isFinal whether the reason goes before another for which tokens had ended
 */
export function endHandedOut(
  app: Pick<App, 'policy'>,
  before: AppState,
  kinds: Pick<ReadonlySet<Credential>, 'has'>,
  reason: Reason,
  isMeant: (record: Owned) => boolean,
  isFinal = false,
): AppState {
  let after = before;
  if (kinds.has('session')) {
    before.sessions.forEach((record, index) => {
      if (isMeant(record)) after = endSession(app, after, index, reason);
    });
  }
  if (kinds.has('refresh') || kinds.has('access')) {
    before.families.forEach((record, index) => {
      if (isMeant(record)) after = endFamily(after, index, reason, isFinal);
    });
  }
  if (!kinds.has('remember') || !before.remembered.some((each) => !each.ended && isMeant(each))) return after;
  return changed(after, {
    remembered: before.remembered.map((each) => (isMeant(each) ? withEnded(each) : each)),
  });
}

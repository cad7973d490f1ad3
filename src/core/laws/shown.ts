import { admit } from '../app/admit.js';
import { GUEST, type Identity } from '../app/identify.js';
import { isSafe } from '../http/messages.js';
import type { Page } from '../language/policy.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Exchange } from '../play/stage.js';
import type { View } from './law.js';

/**
 * Whether a page or data that is guarded was shown, or something was written to it. The shell of a page that script guards is
 * given to anybody.
 */
export function isShown({ route, response, request, explanation }: Exchange): boolean {
  if (route === null || route.page === null || route.task !== null) return false;
  if (isSafe(request.method)) return response.status < 300 && route.guard !== 'browser';
  return response.status < 300 || isSentOnAfter(route.page, response, explanation);
}

/** Whether a write was served, and its sender sent on as the page says. */
function isSentOnAfter(
  { afterWrite }: Page,
  { location }: Exchange['response'],
  { reason }: Exchange['explanation'],
): boolean {
  return reason === 'served' && afterWrite.to !== null && location !== null;
}

/** Whether what was shown is not for the visitor's account as it is now. */
export function isOutsideNow(
  { played, clock }: Pick<View, 'played' | 'clock'>,
  { route, visitor }: Exchange,
): boolean {
  if (route === null || visitor.account === null) return false;
  const { audience } = route.grounds;
  // No role opens what is for guests: it is shown to somebody else where they have to log in again.
  if (audience.who === 'guests') return false;
  const account = played.state.accounts.get(visitor.account);
  if (account?.state === 'active' && account.roles === visitor.roles) return false;
  if (account?.state === 'active' && isExcluded(audience, account.roles)) return true;
  const now: Identity =
    account?.state === 'active'
      ? { ...visitor, roles: new Set([...visitor.roles].filter((role) => account.roles.has(role))) }
      : GUEST;
  return admit(audience, now, route.parameters, clock) !== 'served';
}

/** Roles that shut somebody out do so even where the visitor goes by fewer than the account holds. */
function isExcluded(audience: Audience, roles: ReadonlySet<string>): boolean {
  return audience.who === 'some' && audience.none.some((role) => roles.has(role));
}

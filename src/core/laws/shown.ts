import { admit } from '../app/admit.js';
import { GUEST, type Identity } from '../app/identify.js';
import type { Audience } from '../language/policy.js';
import type { Exchange } from '../walks/stage.js';
import type { View } from './law.js';

/** Whether a page or data that is guarded was shown. The shell of a page that script guards is given to anybody. */
export function isShown({ route, response }: Exchange): boolean {
  if (response.status >= 300 || route === null || route.page === null || route.task !== null) return false;
  return route.page.guard !== 'browser';
}

/** Whether what was shown is not for the visitor's account as it is now. */
export function isOutsideNow(
  { played, clock }: Pick<View, 'played' | 'clock'>,
  { route, visitor }: Exchange,
): boolean {
  if (route === null || visitor.account === null) return false;
  const { audience } = route.grounds;
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

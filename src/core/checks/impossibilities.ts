import { whatLacks } from '../app/reasons.js';
import { handedOut } from '../vocabulary/credentials.js';
import type { Policy } from '../language/policy.js';
import type { Step } from '../steps/walk.js';

/** An expectation that nothing can meet, by its key, and why. */
export interface Impossibility {
  readonly key: string;
  readonly because: string;
}

/** The expectations of a step that no state of the app can meet. */
export function impossibilities(step: Step, policy: Policy): Impossibility[] {
  const { why, seenAs, actedBy, refreshes, session, shows, status } = step.expects;
  const { tokens, login, menu, accounts } = policy;
  const found: Impossibility[] = [];
  const add = (key: string, because: string) => found.push({ key, because });
  const missing = why === null ? null : whatLacks(why, policy);
  if (missing !== null) add('why', `nothing gives ${why ?? ''} where the policy has no ${missing}`);
  if (refreshes !== null && refreshes > 0 && !tokens?.refresh) {
    add('refreshes', 'there are no refresh tokens');
  }
  if (refreshes !== null && refreshes > 1 && !hasSeveralRequests(policy)) {
    add('refreshes', 'a request is worth one refresh');
  }
  if (session === 'live' && login !== null && !handedOut(policy).includes('session')) {
    add('session', 'the login hands out no session');
  }
  const state = seenAs === null ? undefined : accounts.get(seenAs)?.state;
  if (state === 'suspended') add('seen-as', `the account ${seenAs ?? ''} is suspended`);
  if (actedBy !== null && actedBy !== 'nobody' && policy.impersonation === null) {
    add('acted-by', 'nobody acts for anybody where the policy has no impersonation');
  }
  const unknown = shows?.find((link) => link.startsWith('/') && !menu.some((each) => each.to === link));
  if (unknown !== undefined) add('shows', `no menu link leads to ${unknown}`);
  if (status !== null && why === 'served' && status >= 400) {
    add('status', `whoever is served gets no ${status}`);
  }
  return found;
}

function hasSeveralRequests({ pages }: Policy): boolean {
  return pages.some((page) => page.loads.length > 0);
}

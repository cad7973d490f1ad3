import type { Reason } from '../vocabulary/reasons.js';
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
  const { why, seenAs, refreshes, session, shows, status } = step.expects;
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
  const unknown = shows?.find((link) => !menu.some((each) => each.to === link));
  if (unknown !== undefined) add('shows', `no menu link leads to ${unknown}`);
  if (status !== null && why === 'served' && status >= 400) {
    add('status', `whoever is served gets no ${status}`);
  }
  return found;
}

function hasSeveralRequests({ pages }: Policy): boolean {
  return pages.some((page) => page.loads.length > 0);
}

/** The part of the language without which a reason never occurs; null where it can. */
function whatLacks(why: Reason, policy: Policy): string | null {
  const { session, tokens, login, secondFactor } = policy;
  switch (why) {
    case 'idle-expired':
      return session.idle === null ? 'session.idle' : null;
    case 'absolute-expired':
      return session.absolute === null ? 'session.absolute' : null;
    case 'access-expired':
      return tokens === null ? 'tokens' : null;
    case 'refresh-expired':
    case 'refresh-reused':
    case 'refresh-revoked':
      return tokens?.refresh ? null : 'tokens.refresh';
    case 'locked-out':
      return login?.attempts ? null : 'login.attempts';
    case 'wrong-password':
      return login === null ? 'login' : null;
    case 'unsafe-return':
      return login?.return ? null : 'login.return';
    case 'code-needed':
    case 'code-wrong':
      return secondFactor === null ? 'second-factor' : null;
    case 'code-expired':
      return secondFactor === null && policy.confirm === null ? 'second-factor' : null;
    case 'insecure-scheme':
      return policy.rules.some((rule) => rule.onlyHttps) ? null : 'rule with scheme: https';
    case 'forwarded':
      return policy.pages.some((page) => page.forward !== null) ? null : 'page with forward';
    default:
      return null;
  }
}

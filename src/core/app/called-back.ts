import type { Policy } from '../language/policy.js';
import type { TokenFamily } from './app.js';

/** Whether access tokens of a login are refused before their time, since it has ended: only where the policy says that they are. */
export function isCalledBack({ logout, password }: Policy, { ended }: Pick<TokenFamily, 'ended'>): boolean {
  if (ended === null) return false;
  const rules = ended === 'password-changed' ? password : logout;
  return rules?.ends.has('access') === true;
}

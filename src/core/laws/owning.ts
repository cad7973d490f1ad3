import { CREDENTIAL_KINDS } from '../credentials/all-credentials.js';
import { kindOf } from '../credentials/counts.js';
import { formatDuration } from '../time/duration.js';
import type { Policy } from '../language/policy.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { PromiseEvent } from '../vocabulary/promise-events.js';
import type { Sight } from './law.js';
import type { LeftBehind } from './memory.js';

/** What would own up to a credential that still works after something: the promise with its own bound. */
export function promiseOf(policy: Policy, after: PromiseEvent, what: Credential): string {
  const longest = CREDENTIAL_KINDS[what].longest(policy);
  const bound = longest === null ? 'a time' : formatDuration(longest);
  return `promises: { after: ${after}, copied: ${what}, works-at-most: ${bound} }`;
}

/** What outlives something: as what it was copied, and by what its handle is now. */
type Outliving = Pick<LeftBehind, 'what' | 'handle'>;

/**
 * What would mend a credential that outlives a logout, and what would own up to it: what still counts is to end, and what it was got
 * for is promised.
 */
export function afterLogout(policy: Policy, { what, handle }: Outliving): Pick<Sight, 'mend' | 'own'> {
  const name = kindOf(handle);
  const isSealed = name === 'session' && policy.session.kept === 'sealed';
  const mend = isSealed
    ? 'set session.kept: store: what is sealed in a cookie is beyond the reach of a logout'
    : policy.logout?.ends.has(name) === true
      ? MORE[policy.logout.of]
      : `write logout.ends: [${[...(policy.logout?.ends ?? []), name].join(', ')}]`;
  return { mend, own: promiseOf(policy, 'logout', what) };
}

/** What ends more than a logout does already. */
const MORE = {
  shown: 'set logout.of: login, so that all that goes back to the same login ends',
  login: 'set logout.of: account, so that all of the account ends',
  account: 'name access in logout.ends, so that tokens are asked for at each request',
} as const;

/** What would mend a credential that outlives a changed password, and what would own up to it. */
export function afterPassword(policy: Policy, { what, handle }: Outliving): Pick<Sight, 'mend' | 'own'> {
  const name = kindOf(handle);
  const isSealed = name === 'session' && policy.session.kept === 'sealed';
  const ends = policy.password?.ends ?? new Set();
  const mend = isSealed
    ? 'set session.kept: store: what is sealed in a cookie is beyond the reach of a changed password'
    : ends.has(name)
      ? 'set password.own: renews, so that the session in which it was changed is another too'
      : `write password.ends: [${[...ends, name].join(', ')}]`;
  return { mend, own: promiseOf(policy, 'password-changed', what) };
}

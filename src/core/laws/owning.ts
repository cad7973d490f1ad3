import { formatDuration, type Seconds } from '../language/duration.js';
import type { Credential, Policy, PromiseEvent } from '../language/policy.js';
import type { Sight } from './law.js';

/** For how long a copy of a credential works at most, by the policy's own limits; null where nothing limits it. */
export function longestOf({ session, tokens }: Policy, what: Credential): Seconds | null {
  const access = tokens === null ? null : tokens.access.life + tokens.access.leeway;
  const refresh = tokens?.refresh ?? null;
  switch (what) {
    case 'session':
      return session.absolute ?? (session.renews === 'never' ? session.idle : null);
    case 'access':
      return access;
    case 'refresh': {
      if (refresh === null || access === null) return null;
      if (!refresh.rotates) return refresh.life + access;
      return refresh.longest === null ? null : refresh.longest + access;
    }
    case 'remember':
      return null;
  }
}

/** What would own up to a credential that still works after something: the promise with its own bound. */
export function promiseOf(policy: Policy, after: PromiseEvent, what: Credential): string {
  const longest = longestOf(policy, what);
  const bound = longest === null ? 'a time' : formatDuration(longest);
  return `promises: { after: ${after}, copied: ${what}, works-at-most: ${bound} }`;
}

/** What would mend a credential that outlives a logout, and what would own up to it. */
export function afterLogout(policy: Policy, what: Credential): Pick<Sight, 'mend' | 'own'> {
  const isSealed = what === 'session' && policy.session.kept === 'sealed';
  const ended = policy.logout?.ends.has(what) === true;
  const mend = isSealed
    ? 'set session.kept: store: what is sealed in a cookie is beyond the reach of a logout'
    : ended
      ? `set logout.everywhere: true, so that every ${what} of the account ends`
      : `write logout.ends: [${[...(policy.logout?.ends ?? []), what].join(', ')}]`;
  return { mend, own: promiseOf(policy, 'logout', what) };
}

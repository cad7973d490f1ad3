import { longestBy } from '../language/session-lives.js';
import type { Path } from '../language/text/yaml-text.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

/** A limit within a session is below that of the session. */
export const limitNeverReached = check<{ what: string; limit: Seconds; absolute: Seconds }>({
  meta: {
    code: 'limit-never-reached',
    severity: 'warning',
    title: 'A limit within a session is below that of the session.',
    why: 'A session that ends before the limit can matter makes it a dead letter: a fresh login is asked for that every login is.',
    cwe: null,
    mend: 'Choose a limit below session.absolute, or leave it out.',
  },
  *find(facts) {
    const absolute = longestBy('absolute', facts.policy);
    if (absolute === null) return;
    for (const { at, what, limit } of limits(facts)) {
      if (limit >= absolute) yield { at, params: { what, limit, absolute } };
    }
  },
  message: ({ what, limit, absolute }) =>
    `${what} of ${formatDuration(limit)} is never reached: each session ends after ${formatDuration(absolute)}`,
});

function* limits({ policy, audiences }: Facts): Generator<{ at: Path; what: string; limit: Seconds }> {
  const life = policy.impersonation?.life ?? null;
  if (policy.impersonation !== null && life !== null) {
    yield { at: [...policy.impersonation.at, 'life'], what: 'acting for somebody', limit: life };
  }
  // Who is remembered or known by a token has another login than that of the session.
  if (policy.remember !== null || policy.tokens !== null) return;
  for (const { audience, at } of audiences) {
    const limit = audience.who === 'some' ? audience.loginWithin : null;
    if (limit !== null) yield { at, what: 'a login', limit };
  }
}

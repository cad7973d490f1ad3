import { check } from './check.js';

/** A refresh token that was changed for another is worth nothing. */
export const refreshReuseAccepted = check<{ reuse: string }>({
  meta: {
    code: 'refresh-reuse-accepted',
    severity: 'warning',
    title: 'A refresh token that was changed for another is worth nothing.',
    why: 'A used token that comes again means that two hold it. Where it is taken, or only refused, the thief goes on (RFC 9700 §4.14.2).',
    cwe: 'CWE-294',
    mend: 'Set tokens.refresh.reuse to end-family, or leave it out.',
  },
  *find(facts) {
    const refresh = facts.policy.tokens?.refresh ?? null;
    if (refresh === null || !refresh.rotates || refresh.reuse === 'end-family') return;
    yield { at: ['tokens', 'refresh', 'reuse'], params: { reuse: refresh.reuse } };
  },
  message: ({ reuse }) =>
    reuse === 'accept'
      ? 'a refresh token that was already changed for another is taken again'
      : 'a refresh token that comes a second time is refused, but whoever holds its successor goes on',
});

import { check } from './check.js';

/** A refresh token is changed for another at each use. */
export const refreshWithoutRotation = check<null>({
  meta: {
    code: 'refresh-without-rotation',
    severity: 'warning',
    title: 'A refresh token is changed for another at each use.',
    why: 'A stolen refresh token that does not rotate works beside its owner until it runs out, and nobody notices (RFC 9700 §4.14).',
    cwe: 'CWE-613',
    mend: 'Set rotates: true, which is what is taken when it is left out.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    if (tokens === null || tokens.refresh === null || tokens.refresh.rotates) return;
    yield { at: ['tokens', 'refresh', 'rotates'], params: null };
  },
  message: () => 'refresh tokens do not rotate: a stolen one works unnoticed to its end',
});

import { createHash } from 'node:crypto';

/** What is told of a verifier when a code is asked for (RFC 7636 §4.2). */
export function challengeOf(verifier: string): string {
  return createHash('sha256').update(verifier).digest('base64url');
}

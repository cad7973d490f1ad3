import { handle } from '../app/app.js';
import { bearerIndex } from '../app/identify.js';
import { TOKEN_COOKIES } from '../app/token-cookies.js';
import { cookieValue } from '../http/cookies.js';
import type { Policy } from '../language/policy.js';
import type { Exchange } from '../play/stage.js';

/** The credential that a visitor was known by in an exchange; null for a guest. */
export function knownBy(policy: Policy, { request, visitor }: Exchange): string | null {
  if (visitor.account === null) return null;
  if (visitor.by === 'session') return handle('session', visitor.session);
  const index = bearerIndex(request.authorization);
  if (index >= 0) return handle('access', index);
  return policy.tokens?.kept === 'cookie' ? cookieValue(request.cookie, TOKEN_COOKIES.access) : null;
}

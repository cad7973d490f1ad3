import type { Reason } from '../app/reasons.js';
import { isSafe } from '../http/messages.js';
import type { Exchange } from './stage.js';

const WAYS_IN = new Set(['login', 'code', 'sign-up', 'reset', 'open-link', 'provider-back']);
/** One for whom there is no landing is in all the same. */
const IN = new Set<Reason>(['served', 'unsafe-return', 'unknown-page']);

/** Whether a request let somebody in. */
export function letsIn({ route, request, explanation }: Exchange): boolean {
  // A link for a new password is opened first, and shows a form.
  if (route?.task === 'reset' && isSafe(request.method)) return false;
  return WAYS_IN.has(route?.task ?? '') && explanation.seenAs !== null && IN.has(explanation.reason);
}

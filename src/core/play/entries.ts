import type { Reason } from '../app/reasons.js';
import type { Exchange } from './stage.js';

const WAYS_IN = new Set(['login', 'code', 'sign-up']);
/** One for whom there is no landing is in all the same. */
const IN = new Set<Reason>(['served', 'unsafe-return', 'unknown-page']);

/** Whether a request let somebody in. */
export function letsIn({ route, explanation }: Exchange): boolean {
  return WAYS_IN.has(route?.task ?? '') && explanation.seenAs !== null && IN.has(explanation.reason);
}

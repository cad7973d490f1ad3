import type { Reason } from '../app/reasons.js';
import type { Exchange } from '../walks/stage.js';

const WAYS_IN = new Set(['login', 'code', 'sign-up']);
const IN = new Set<Reason>(['served', 'unsafe-return']);

/** Whether a request let somebody in. */
export function letsIn({ route, explanation }: Exchange): boolean {
  return WAYS_IN.has(route?.task ?? '') && explanation.seenAs !== null && IN.has(explanation.reason);
}

import type { Path } from '../language/text/yaml-text.js';
import { reasonKind, type Reason } from './reasons.js';
import type { Route } from './router.js';

/**
 * Where the policy says what becomes of whoever is refused at an address: the page itself, the rule that covers it, or what is
 * said of all; where that is not written, it is so by default.
 */
export function refusalPlace(route: Route, reason: Reason, isGuest: boolean): Path {
  const key = reasonKind(reason).refusal ?? (isGuest ? 'guest' : 'role');
  const { kind } = route;
  for (const own of [route.page, route.rule]) {
    const said = own?.refusals;
    if (!own || !said || said[kind][key] === undefined) continue;
    return [...own.at, 'refusals', ...(kind === 'api' && said.api !== said.page ? ['api'] : []), key];
  }
  return ['refusals', ...(kind === 'api' ? ['api'] : []), key];
}

import type { Method } from '../http/messages.js';
import type { Audience } from '../vocabulary/audience.js';
import { isBelow } from './below.js';
import type { Finding } from './check.js';
import { WRITES, type Facts, type Standing } from './facts.js';

/** A request that changes something, below a page that asks for more than it. */
export interface WriteBeside {
  readonly who: string;
  readonly method: Method;
  readonly path: string;
  readonly beside: string;
}

/**
 * What may be sent below pages that ask for something, by somebody who lacks just that, where reading does not ask for it either.
 *
 * @param asks whether an audience asks for it
 * @param lacks whether somebody who stands there lacks it
 * @param what it in words, such as `a code`
 */
export function* writesBeside(
  facts: Facts,
  asks: (audience: Audience) => boolean,
  lacks: (who: Standing) => boolean,
  what: string,
): Generator<Finding<WriteBeside>> {
  const { pages } = facts.policy;
  const asking = pages.flatMap((page) => {
    const route = facts.pageRoute(page);
    return route !== null && asks(route.grounds.audience) ? [{ page, route }] : [];
  });
  for (const page of asking.length === 0 ? [] : pages) {
    const address = facts.sampleOf(page);
    const read = facts.pageRoute(page);
    for (const method of WRITES) {
      const write = facts.route(address, method);
      if (write?.page !== page || write.task !== null || read === null) continue;
      const beside = asking.find((each) => each.page !== page && isBelow(page.pattern, each.page.pattern));
      if (beside === undefined || asks(read.grounds.audience)) continue;
      const narrow = beside.route.grounds.audience;
      const found = facts.standingOnlyIn(write.grounds.audience, narrow, write.parameters);
      if (found === undefined || !lacks(found)) continue;
      yield {
        at: write.grounds.at,
        params: { who: found.who, method, path: page.pattern.text, beside: beside.page.pattern.text },
        related: [{ at: beside.route.grounds.at, message: `${what} is asked for here` }],
        shownBy: facts.shownBy(method, address, found.who),
      };
      break;
    }
  }
}

import { WRITES } from './facts.js';
import { isBelow } from './below.js';
import { asksForCode } from './step-up.js';
import { check } from './check.js';

/** What is sent beside pages that ask for a code asks for it too. */
export const writeWithoutCode = check<{ who: string; method: string; path: string; beside: string }>({
  meta: {
    code: 'write-without-code',
    severity: 'warning',
    title: 'What is sent beside pages that ask for a code asks for it too.',
    why: 'The code stands before looking, and what changes things below the same address is done without it.',
    cwe: 'CWE-308',
    mend: 'Add second-factor: true to the audience that may send.',
  },
  *find(facts) {
    const { pages } = facts.policy;
    const asking = pages.flatMap((page) => {
      const route = facts.pageRoute(page);
      return route !== null && asksForCode(route.grounds.audience) ? [{ page, route }] : [];
    });
    for (const page of asking.length === 0 ? [] : pages) {
      const address = facts.sampleOf(page);
      const read = facts.pageRoute(page);
      for (const method of WRITES) {
        const write = facts.route(address, method);
        if (write?.page !== page || write.task !== null || read === null) continue;
        const beside = asking.find((each) => each.page !== page && isBelow(page.pattern, each.page.pattern));
        if (beside === undefined || asksForCode(read.grounds.audience)) continue;
        const narrow = beside.route.grounds.audience;
        const found = facts.standingOnlyIn(write.grounds.audience, narrow, write.parameters);
        if (found === undefined || !found.isWithoutCode) continue;
        yield {
          at: write.grounds.at,
          params: { who: found.who, method, path: page.pattern.text, beside: beside.page.pattern.text },
          related: [{ at: beside.route.grounds.at, message: 'a code is asked for here' }],
          shownBy: facts.shownBy(method, address, found.who),
        };
        break;
      }
    }
  },
  message: ({ who, method, path, beside }) =>
    `${who} may send ${method} to ${path}, below ${beside}, which asks for a one-time code`,
});

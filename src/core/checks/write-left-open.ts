import { decidedBy, isOfOnePlace, WRITES } from './facts.js';
import { check } from './check.js';

/** Whoever may send to a page may see it, also where the page says nothing of sending. */
export const writeLeftOpen = check<{ who: string; method: string; path: string; by: string }>({
  meta: {
    code: 'write-left-open',
    severity: 'error',
    title: 'Sending to a page is guarded where seeing it is.',
    why: 'An audience for reading leaves sending to what follows: a rule, or otherwise. Requests can be made without the page.',
    cwe: 'CWE-862',
    mend: 'Write for instead of read, or give write an audience; a rule with methods needs all of POST, PUT, PATCH and DELETE.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const read = facts.pageRoute(page);
      if (read === null || read.task !== null) continue;
      const address = facts.sampleOf(page);
      for (const method of WRITES) {
        const write = facts.route(address, method);
        if (write?.page !== page || write.task !== null || isOfOnePlace(read.grounds, write.grounds)) {
          continue;
        }
        const found = facts.standingOnlyIn(write.grounds.audience, read.grounds.audience, read.parameters);
        if (found === undefined) continue;
        const { by } = write.grounds;
        yield {
          at: read.grounds.at,
          params: { who: found.who, method, path: page.pattern.text, by },
          related: decidedBy(write.grounds, `this decides on ${method}`),
          shownBy: facts.shownBy(method, address, found.who),
        };
        break;
      }
    }
  },
  message: ({ who, method, path, by }) =>
    `${who} may send ${method} to ${path} without being allowed to see it: ${by === 'otherwise' ? 'otherwise' : `another ${by}`} decides on that`,
});

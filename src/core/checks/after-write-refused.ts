import { sampleAddress } from '../paths/coverage.js';
import { apartFromPath } from '../vocabulary/audience.js';
import { check } from './check.js';
import { WRITES } from './facts.js';

/** Whoever may send something is let in where that sends them. */
export const afterWriteRefused = check<{ who: string; path: string; to: string }>({
  meta: {
    code: 'after-write-refused',
    severity: 'warning',
    title: 'Whoever may send something is let in where that sends them.',
    why: 'What was sent is taken, and a refusal is all that is seen of it: people send it again, or give up.',
    cwe: null,
    mend: 'Send people to a page that all who may send it may see.',
  },
  *find(facts) {
    for (const page of facts.policy.pages) {
      const { to } = page.afterWrite;
      const target = to === null ? null : facts.route(to.replace(PARAMETER, 'x'));
      if (to === null || target === null || target.page === null) continue;
      const address = sampleAddress(page.pattern, () => 'x');
      for (const method of WRITES) {
        const write = facts.route(address, method);
        if (write?.page !== page || write.task !== null) continue;
        const [wide, narrow] = [write, target].map(({ grounds }) => apartFromPath(grounds.audience));
        const found = wide && narrow && facts.admittedOnlyBy(wide, narrow);
        if (!found) continue;
        yield {
          at: [...page.at, 'after-write'],
          params: { who: found.who, path: page.pattern.text, to },
          related: [{ at: target.grounds.at, message: `this is whom ${to} is for` }],
        };
        break;
      }
    }
  },
  message: ({ who, path, to }) => `${who} may send to ${path}, and is refused at ${to} afterwards`,
});

const PARAMETER = /:[A-Za-z][\w-]*/g;

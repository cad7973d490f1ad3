import type { Path } from '../language/text/yaml-text.js';
import { type Audience } from '../vocabulary/audience.js';
import { apartFromPath } from '../audience/all-conditions.js';
import { check } from './check.js';
import { WRITES, type Facts } from './facts.js';

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
    for (const { at, path, to, audience } of sendings(facts)) {
      const target = facts.route(to.replace(PARAMETER, 'x'));
      // A page for guests sends whoever is signed in on to their landing, which is no refusal.
      if (target === null || target.page === null || target.grounds.audience.who === 'guests') continue;
      const found = facts.admittedOnlyBy(apartFromPath(audience), apartFromPath(target.grounds.audience));
      if (found === undefined) continue;
      yield {
        at,
        params: { who: found.who, path, to },
        related: [{ at: target.grounds.at, message: `this is whom ${to} is for` }],
      };
    }
  },
  message: ({ who, path, to }) => `${who} may send to ${path}, and is refused at ${to} afterwards`,
});

const PARAMETER = /:[A-Za-z][\w-]*/g;

/** Something that is sent, by whom, and where that sends them. */
interface Sending {
  readonly at: Path;
  readonly path: string;
  readonly to: string;
  readonly audience: Audience;
}

function* sendings(facts: Facts): Generator<Sending> {
  const { pages, password, linkLogin } = facts.policy;
  for (const page of pages) {
    const { to } = page.afterWrite;
    if (to === null) continue;
    for (const method of WRITES) {
      const write = facts.route(facts.sampleOf(page), method);
      if (write?.page !== page || write.task !== null) continue;
      const { audience } = write.grounds;
      yield { at: [...page.at, 'after-write'], path: page.pattern.text, to, audience };
      break;
    }
  }
  // Whoever is signed out by a changed password lands at the login.
  const change = password?.own === 'ends' ? null : password?.change;
  for (const form of [change, password?.reset, linkLogin]) {
    if (!form) continue;
    const { path, method } = form.submit;
    const audience = facts.route(path, method)?.grounds.audience;
    if (audience !== undefined) yield { at: [...form.at, 'lands'], path, to: form.lands, audience };
  }
}

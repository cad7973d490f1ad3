import { asksForCode } from './step-up.js';
import { check } from './check.js';
import { writesBeside, type WriteBeside } from './writes-beside.js';

/** What is sent beside pages that ask for a code asks for it too. */
export const writeWithoutCode = check<WriteBeside['params']>({
  meta: {
    code: 'write-without-code',
    severity: 'warning',
    title: 'What is sent beside pages that ask for a code asks for it too.',
    why: 'The code stands before looking, and what changes things below the same address is done without it.',
    cwe: 'CWE-308',
    mend: 'Add second-factor: true to the audience that may send.',
  },
  *find(facts) {
    for (const { write, params, beside } of writesBeside(facts, asksForCode, (who) => who.isWithoutCode)) {
      yield {
        at: write.grounds.at,
        params,
        related: [{ at: beside.grounds.at, message: 'a code is asked for here' }],
        shownBy: facts.shownBy(params.method, params.address, params.who),
      };
    }
  },
  message: ({ who, method, path, beside }) =>
    `${who} may send ${method} to ${path}, below ${beside}, which asks for a one-time code`,
});

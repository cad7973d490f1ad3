import { asksForCode } from './step-up.js';
import { check } from './check.js';
import { writesBeside, type WriteBeside } from './writes-beside.js';

/** What is sent beside pages that ask for a code asks for it too. */
export const writeWithoutCode = check<WriteBeside>({
  meta: {
    code: 'write-without-code',
    severity: 'warning',
    title: 'What is sent beside pages that ask for a code asks for it too.',
    why: 'The code stands before looking, and what changes things below the same address is done without it.',
    cwe: 'CWE-308',
    mend: 'Add second-factor: true to the audience that may send.',
  },
  find: (facts) => writesBeside(facts, asksForCode, (who) => who.isWithoutCode, 'a code'),
  message: ({ who, method, path, beside }) =>
    `${who} may send ${method} to ${path}, below ${beside}, which asks for a one-time code`,
});

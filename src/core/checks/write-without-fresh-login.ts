import { check } from './check.js';
import type { Standing } from './facts.js';
import { asksForFreshLogin } from './step-up.js';
import { writesBeside, type WriteBeside } from './writes-beside.js';

/** What is sent beside pages that ask for a fresh login asks for it too. */
export const writeWithoutFreshLogin = check<WriteBeside>({
  meta: {
    code: 'write-without-fresh-login',
    severity: 'warning',
    title: 'What is sent beside pages that ask for a fresh login asks for it too.',
    why: 'The password stands before looking, and what changes things below the same address, such as a mail address, is done without it.',
    cwe: 'CWE-306',
    mend: 'Add login-within to the audience that may send.',
  },
  find: (facts) => writesBeside(facts, asksForFreshLogin, isStale, 'a fresh login'),
  message: ({ who, method, path, beside }) =>
    `${who} may send ${method} to ${path}, below ${beside}, which asks for a fresh login`,
});

function isStale({ visitor }: Standing): boolean {
  return visitor.since === null;
}

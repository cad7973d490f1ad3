import { check } from './check.js';

/** Guessing passwords is slowed down. */
export const attemptsWithoutLimit = check<{ name: string | null }>({
  meta: {
    code: 'attempts-without-limit',
    severity: 'warning',
    title: 'Guessing passwords is slowed down.',
    why: 'Without a limit a script tries every likely password of an account, and nobody notices.',
    cwe: 'CWE-307',
    mend: 'Add attempts to login, such as { most: 5, within: 15m, pause: 15m }.',
  },
  *find(facts) {
    for (const { at, name, attempts } of facts.policy.logins) {
      if (attempts === null) yield { at, params: { name } };
    }
  },
  message: ({ name }) => `the login${name === null ? '' : ` ${name}`} takes any number of wrong passwords`,
});

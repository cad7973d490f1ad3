import { isSafe } from '../http/messages.js';
import { check } from './check.js';

/** A logout is asked for by a request that writes. */
export const logoutByGet = check<{ request: string }>({
  meta: {
    code: 'logout-by-get',
    severity: 'warning',
    title: 'A logout is asked for by a request that writes.',
    why: 'Any page on the web can log visitors out with a picture, and browsers that load links ahead do it by themselves.',
    cwe: 'CWE-352',
    mend: 'Ask for the logout by POST.',
  },
  *find(facts) {
    for (const { method, path, at } of facts.policy.logout?.submits ?? []) {
      if (isSafe(method)) yield { at, params: { request: `${method} ${path}` } };
    }
  },
  message: ({ request }) =>
    `${request} logs out, and a ${request.split(' ', 1).join('')} is made by any link or picture`,
});

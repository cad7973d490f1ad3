import { check } from './check.js';

/** Pages for people who are signed in need a way to sign in. */
export const noWayIn = check<null>({
  meta: {
    code: 'no-way-in',
    severity: 'warning',
    title: 'There is a way to sign in.',
    why: 'Without a login every page for signed-in visitors is closed to everybody.',
    cwe: null,
    mend: 'Add a login section with page and submit.',
  },
  *find({ policy }) {
    if (policy.login === null) yield { at: [], params: null };
  },
  message: () => 'the policy has no login: nobody can ever be signed in',
});

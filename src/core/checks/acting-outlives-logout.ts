import { check } from './check.js';

/** Whoever logs out acts for nobody any more. */
export const actingOutlivesLogout = check<{ isWithAccount: boolean }>({
  meta: {
    code: 'acting-outlives-logout',
    severity: 'warning',
    title: 'Whoever logs out acts for nobody any more.',
    why: 'The next login lands in somebody else’s account, or a browser that was left is still in one.',
    cwe: 'CWE-613',
    mend: 'Set impersonation.kept to session, and let the logout end the session.',
  },
  *find({ policy: { impersonation, logout } }) {
    if (impersonation === null || logout === null) return;
    if (impersonation.kept === 'account') {
      yield { at: [...impersonation.at, 'kept'], params: { isWithAccount: true } };
    } else if (!logout.ends.has('session')) {
      yield {
        at: [...logout.at, 'ends'],
        params: { isWithAccount: false },
        related: [{ at: impersonation.at, message: 'this is noted in the session' }],
      };
    }
  },
  message: ({ isWithAccount }) =>
    isWithAccount
      ? 'acting for somebody is noted with the account, and goes on after the logout'
      : 'the logout leaves the session good in which somebody acts for another',
});

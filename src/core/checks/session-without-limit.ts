import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A session must end by itself. */
export const sessionWithoutLimit = check<null>({
  meta: {
    code: 'session-without-limit',
    severity: 'warning',
    title: 'A session ends by itself.',
    why: 'A session that was left open on a shared machine, or copied, is good for as long as the app runs.',
    cwe: 'CWE-613',
    mend: 'Set session.idle, session.absolute or both.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || !handedOut(facts.policy).includes('session')) return;
    if (session.idle === null && session.absolute === null) yield { at: ['session'], params: null };
  },
  message: () => 'sessions have neither an idle nor an absolute limit: they never end by themselves',
});

import { handedOut } from '../vocabulary/credentials.js';
import { check } from './check.js';

/** A link from outside finds a signed-in visitor signed in. */
export const cookieStrictLosesLinks = check<{ name: string }>({
  meta: {
    code: 'cookie-strict-loses-links',
    severity: 'advice',
    title: 'A link from outside finds a signed-in visitor signed in.',
    why: 'A strict cookie is not sent with the first request that comes from another site: whoever follows a link in a mail is asked to log in although they are signed in.',
    cwe: null,
    mend: 'Use same-site: lax, which is sent with such links and not with forms of other sites.',
  },
  *find(facts) {
    const { login, session } = facts.policy;
    if (login === null || login.return === null || !handedOut(facts.policy).includes('session')) return;
    if (session.cookie.sameSite !== 'strict') return;
    yield { at: ['session', 'cookie', 'same-site'], params: { name: session.cookie.name } };
  },
  message: ({ name }) =>
    `the cookie ${name} does not come along with links from other sites: signed-in visitors arrive as guests`,
});

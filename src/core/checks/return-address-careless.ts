import { acceptedReturn, FOREIGN } from '../app/return-address.js';
import { resolveAddress } from '../http/address.js';
import { check } from './check.js';

/** A return address must stay on the site. */
export const returnAddressCareless = check<{ accept: string; address: string; leadsTo: string }>({
  meta: {
    code: 'return-address-careless',
    severity: 'error',
    title: 'A return address cannot lead off the site.',
    why: 'A link to the real login page can carry visitors on to a copy of the site that asks for the password again.',
    cwe: 'CWE-601',
    mend: 'Use accept: same-origin, which judges the address as a browser resolves it, or a list of paths.',
  },
  *find(facts) {
    const { login, origin } = facts.policy;
    if (login === null || login.return === null) return;
    const home = { origin, path: '/', query: '' };
    for (const asked of FOREIGN) {
      const accepted = acceptedReturn(login.return, asked, origin);
      const leadsTo = accepted === null ? null : resolveAddress(accepted, home);
      if (leadsTo === null || leadsTo.origin === origin) continue;
      const accept = typeof login.return.accept === 'string' ? login.return.accept : 'listed';
      yield {
        at: ['login', 'return', 'accept'],
        params: { accept, address: asked, leadsTo: leadsTo.origin },
      };
      return;
    }
  },
  message: ({ accept, address, leadsTo }) =>
    `accept: ${accept} takes the return address ${address}, which leads to ${leadsTo}`,
});

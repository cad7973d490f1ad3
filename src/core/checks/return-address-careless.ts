import { acceptedReturn } from '../app/return-address.js';
import { resolveAddress } from '../http/address.js';
import { check } from './check.js';

/** Addresses that browsers read as another site although most do not look like it (https://url.spec.whatwg.org). */
export const FOREIGN = [
  'https://wreckers.example/',
  '//wreckers.example/',
  '///wreckers.example/',
  '/\\wreckers.example/',
  '\\\\wreckers.example/',
  // Tabs and line breaks are dropped, wherever they stand.
  '/\t/wreckers.example/',
  '/\n/wreckers.example/',
  'ht\ntps://wreckers.example/',
  // What stands before an @ is a user, not a host; a host may be written with escapes.
  'https://harbour.example@wreckers.example/',
  '//wreckers%2Eexample/',
];

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

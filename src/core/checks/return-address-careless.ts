import { acceptedReturn, FOREIGN } from '../app/return-address.js';
import { resolveAddress } from '../http/address.js';
import type { Policy, ReturnRules } from '../language/policy.js';
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
    const { logins } = facts.policy;
    for (const { return: rules } of logins) {
      const found = rules === null ? null : leadingOff(rules, facts.policy);
      if (rules === null || found === null) continue;
      const accept = typeof rules.accept === 'string' ? rules.accept : 'listed';
      yield { at: [...rules.at, 'accept'], params: { accept, ...found } };
    }
  },
  message: ({ accept, address, leadsTo }) =>
    `accept: ${accept} takes the return address ${address}, which leads to ${leadsTo}`,
});

/** An address that rules take although it leads off the site, and where to; null where there is none. */
function leadingOff(rules: ReturnRules, policy: Policy): { address: string; leadsTo: string } | null {
  const { origin } = policy;
  for (const address of FOREIGN) {
    const accepted = acceptedReturn(rules, address, policy);
    const leadsTo = accepted === null ? null : resolveAddress(accepted, { origin, path: '/', query: '' });
    if (leadsTo !== null && leadsTo.origin !== origin) return { address, leadsTo: leadsTo.origin };
  }
  return null;
}

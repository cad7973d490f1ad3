import { check } from './check.js';

/** An account is found by what the provider vouches for. */
export const providerMatchesAddress = check<{ name: string }>({
  meta: {
    code: 'provider-matches-address',
    severity: 'error',
    title: 'An account is found by what the identity provider vouches for.',
    why: 'OpenID Connect Core §5.7: only issuer and subject stand for one person. Whoever enters the address of somebody else at the provider, and never confirms it, has their account.',
    cwe: 'CWE-290',
    mend: 'Set matches to subject, or at least to confirmed-address.',
  },
  *find({ policy: { providers } }) {
    for (const { at, name, matches } of providers) {
      if (matches === 'address') yield { at: [...at, 'matches'], params: { name } };
    }
  },
  message: ({ name }) => `${name} signs people in to accounts by an address that nobody has confirmed`,
});

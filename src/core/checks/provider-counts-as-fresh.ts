import { check } from './check.js';
import { asksForFreshLogin } from './step-up.js';

/** Whoever comes back from an identity provider without a password has not just logged in. */
export const providerCountsAsFresh = check<{ name: string }>({
  meta: {
    code: 'provider-counts-as-fresh',
    severity: 'warning',
    title: 'Whoever comes back from an identity provider without a password has not just logged in.',
    why: 'A provider that still knows the browser answers at once (OpenID Connect Core §3.1.2.1): one click makes a login fresh that is hours old, in a browser that was left.',
    cwe: 'CWE-613',
    mend: 'Set asks-again to true for the identity provider, so that it asks for the password.',
  },
  *find(facts) {
    const asking = facts.audiences.find(({ audience }) => asksForFreshLogin(audience));
    if (asking === undefined) return;
    for (const { at, name, asksAgain } of facts.policy.providers) {
      if (asksAgain) continue;
      yield {
        at,
        params: { name },
        related: [{ at: asking.at, message: 'a fresh login is asked for here' }],
      };
    }
  },
  message: ({ name }) => `a login by ${name} counts as fresh, though the provider asks for no password`,
});

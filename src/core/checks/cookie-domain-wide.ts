import { hostOf } from '../http/address.js';
import { check } from './check.js';

/** A cookie goes to the hosts of the app and no others. */
export const cookieDomainWide = check<{ name: string; domain: string; own: string }>({
  meta: {
    code: 'cookie-domain-wide',
    severity: 'warning',
    title: 'A cookie goes to the hosts of the app and no others.',
    why: 'With a domain a cookie is sent to every host below it, whoever keeps them, and each of them can put another in its place.',
    cwe: 'CWE-668',
    mend: 'Leave domain out, or name the further hosts of the app that share the cookie, in hosts.',
  },
  *find({ cookies, policy }) {
    const own = hostOf(policy.origin);
    const further = [...policy.hosts, ...policy.rules.flatMap(({ conditions }) => conditions.hosts ?? [])];
    for (const { at, rules } of cookies) {
      const { name, domain } = rules;
      if (domain === null) continue;
      const shares = further.some((host) => host !== own && isWithin(host, domain));
      if (!shares && isWithin(own, domain)) yield { at: [...at, 'domain'], params: { name, domain, own } };
    }
  },
  message: ({ name, domain, own }) =>
    `the cookie ${name} goes to every host below ${domain}, and the app has no other than ${own}`,
});

function isWithin(host: string, domain: string): boolean {
  return host === domain || host.endsWith(`.${domain}`);
}

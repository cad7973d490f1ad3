import { storeCookies } from '../browser/cookie-jar.js';
import { FixedClock } from '../time/clock.js';
import { hostOf } from '../http/address.js';
import { writeSetCookie } from '../http/cookies.js';
import { check } from './check.js';

/** Browsers keep the session cookie. */
export const cookieNeverKept = check<{ name: string; because: string }>({
  meta: {
    code: 'cookie-never-kept',
    severity: 'error',
    title: 'Browsers keep the session cookie.',
    why: 'A cookie that browsers refuse, or that the app holds back, makes every login end at the login page again, without a word.',
    cwe: null,
    mend: 'Serve the app over https, let it trust its proxy, or follow what the name and same-site of the cookie ask for.',
  },
  *find(facts) {
    const { origin, proxy } = facts.policy;
    for (const { at, rules } of facts.cookies) {
      const { name, secure, sameSite } = rules;
      if (secure && proxy !== null && proxy.endsTls && !proxy.trusted) {
        const because =
          'it is secure, and behind a proxy that it does not trust the app believes that it speaks plain http';
        yield { at: ['proxy'], params: { name, because }, related: [{ at, message: 'the cookie' }] };
        continue;
      }
      const header = writeSetCookie({ ...rules, value: 'x', maxAge: null });
      const { refused } = storeCookies([], [header], { origin, path: '/', query: '' }, new FixedClock(0));
      if (refused.length === 0) continue;
      const because = !isInDomain(origin, rules.domain)
        ? `its domain ${rules.domain ?? ''} is not that of the app, nor above it`
        : /^__host-/i.test(name) && (rules.path !== '/' || rules.domain !== null)
          ? 'the start of its name asks for path: / and no domain'
          : secure
            ? 'it is secure, but the app is served over plain http'
            : sameSite === 'none'
              ? 'same-site: none asks for secure'
              : 'the start of its name asks for secure';
      yield { at, params: { name, because } };
    }
  },
  message: ({ name, because }) => `no browser keeps the cookie ${name}: ${because}`,
});

function isInDomain(origin: string, domain: string | null): boolean {
  const host = hostOf(origin);
  return domain === null || host === domain || host.endsWith(`.${domain}`);
}

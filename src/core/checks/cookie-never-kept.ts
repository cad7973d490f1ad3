import { storeCookies } from '../browser/cookie-jar.js';
import { FixedClock } from '../time/clock.js';
import { hostOf } from '../http/address.js';
import { prefixAsks, writeSetCookie } from '../http/cookies.js';
import { isPublicSuffix } from '../http/site.js';
import { check } from './check.js';
import type { HandedCookie } from './facts.js';

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
      const { name, secure } = rules;
      if (secure && proxy !== null && proxy.endsTls && !proxy.trusted) {
        const because =
          'it is secure, and behind a proxy that it does not trust the app believes that it speaks plain http';
        yield { at: ['proxy'], params: { name, because }, related: [{ at, message: 'the cookie' }] };
        continue;
      }
      const header = writeSetCookie({ ...rules, value: 'x', maxAge: null });
      const { refused } = storeCookies([], [header], { origin, path: '/', query: '' }, new FixedClock(0));
      if (refused.length === 0) continue;
      const because = whyNot(origin, rules);
      yield { at, params: { name, because } };
    }
  },
  message: ({ name, because }) => `no browser keeps the cookie ${name}: ${because}`,
});

/** What browsers have against a cookie of an app. */
function whyNot(
  origin: string,
  { name, secure, httpOnly, sameSite, path, domain }: HandedCookie['rules'],
): string {
  const asked = prefixAsks(name);
  if (!isInDomain(origin, domain)) return `its domain ${domain ?? ''} is not that of the app, nor above it`;
  if (domain !== null && domain !== hostOf(origin) && isPublicSuffix(domain)) {
    return `below its domain ${domain} anybody can register a name`;
  }
  if (asked?.host === true && (path !== '/' || domain !== null)) {
    return 'the start of its name asks for path: / and no domain';
  }
  if (asked?.httpOnly === true && !httpOnly) return 'the start of its name asks for http-only';
  if (secure) return 'it is secure, but the app is served over plain http';
  return sameSite === 'none' ? 'same-site: none asks for secure' : 'the start of its name asks for secure';
}

function isInDomain(origin: string, domain: string | null): boolean {
  const host = hostOf(origin);
  return domain === null || host === domain || host.endsWith(`.${domain}`);
}

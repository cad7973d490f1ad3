import fc from 'fast-check';
import { CookieJar, MemoryCookieStore } from 'tough-cookie';
import { cookieHeader, storeCookies, type CookieJar as OwnJar } from '../../../src/core/browser/cookie-jar';
import { FixedClock } from '../../../src/core/time/clock';
import { parseCookieDate } from '../../../src/core/http/cookie-date';

/** The virtual clock starts with the year 2026. */
const START = Date.UTC(2026, 0, 1);

const OWN = 'https://localhost/';
const HOSTS = ['quay.internal', 'east.quay.internal', 'internal', 'other.internal', 'localhost', '127.0.0.1'];
const address = fc
  .tuple(
    fc.constantFrom('https', 'http'),
    fc.constantFrom(...HOSTS),
    fc.constantFrom('/', '/a', '/a/', '/a/b', '/ab'),
  )
  .map(([scheme, host, path]) => `${scheme}://${host}${path}`);
const attribute = fc.oneof(
  fc.constantFrom(
    'Secure',
    'HttpOnly',
    'Path=/',
    'Path=/a',
    'Path=/a/',
    'Path=a',
    'Path',
    'SameSite=Lax',
    'SameSite=Strict',
  ),
  fc.constantFrom(
    'SameSite=None; Secure',
    'SameSite=odd',
    'Domain=quay.internal',
    'Domain=.quay.internal',
    'Domain=east.quay.internal',
    'Domain=other.internal',
  ),
  fc.constantFrom('Max-Age=0', 'Max-Age=-1', 'Max-Age=10', 'Max-Age=odd', 'Max-Age=11; Max-Age=9'),
  fc.integer({ min: -5, max: 30 }).map((at) => `Expires=${new Date(START + at * 1000).toUTCString()}`),
);
const header = fc
  .tuple(
    fc.constantFrom('a', 'b', 'd', '__Host-c', '__Secure-d', 'A'),
    fc.constantFrom('1', '2', ''),
    fc.array(attribute, { maxLength: 4 }),
  )
  .map(([name, value, attributes]) => [`${name}=${value}`, ...attributes].join('; '));
const event = fc.record({
  after: fc.integer({ min: 0, max: 12 }),
  url: address,
  set: fc.option(header),
  crossSite: fc.boolean(),
  post: fc.boolean(),
});

/**
 * Where this browser half means to differ from tough-cookie, with the reason. Each is kept out of the comparison and has
 * a test of its own in `cookie-jar.test.ts`.
 */
function deviates(url: string, set: string | null): boolean {
  const insecure = url.startsWith('http:');
  // tough-cookie stores a secure cookie that an insecure origin sets; RFC 6265bis §5.7 refuses it, as browsers do.
  if (insecure && set !== null && /; Secure/i.test(set)) return true;
  // Loopback: browsers count it as trustworthy over http; tough-cookie does so for some of its names only.
  if (insecure && /\/\/(?:localhost|127)/.test(url)) return true;
  // SameSite=None without Secure is refused by RFC 6265bis and kept by tough-cookie.
  if (set !== null && /SameSite=None/i.test(set) && !/; Secure/i.test(set)) return true;
  // __Host- asks for Path=/ to be written (RFC 6265bis §4.1.3.2), the last Path counting; tough-cookie takes the default
  // path for it.
  const path = [...(set ?? '').matchAll(/; Path(?:=([^;]*))?(?=;|$)/g)].at(-1)?.[1];
  if (set !== null && /^__Host-/.test(set) && path !== '/') return true;
  // Host-only and domain cookies are two (RFC 6265bis §5.7, step 23); tough-cookie lets one take the other's place. So
  // domain cookies have a name of their own here.
  if (set !== null && /Domain=/.test(set) !== set.startsWith('d=')) return true;
  // A cookie that is not secure does not replace a secure one from an insecure origin: tough-cookie has no such rule.
  return insecure && set !== null;
}

/**
 * tough-cookie counts Max-Age anew from each time that a cookie is sent; RFC 6265bis §5.7 fixes the end when it is stored.
 * So it is given the end as a date.
 */
function fromNow(set: string, now: number): string {
  const life = [...set.matchAll(/Max-Age=(-?\d+)(?=;|$)/g)].at(-1)?.[1];
  if (life === undefined || Number(life) <= 0) return set;
  const date = new Date(START + (now + Number(life)) * 1000).toUTCString();
  return `${set.replace(/; (?:Max-Age|Expires)=[^;]*/g, '')}; Expires=${date}`;
}

/** tough-cookie evicts an expired cookie when it would be sent next; RFC 6265bis §5.7 does so at once. */
function evictExpired(store: MemoryCookieStore): void {
  store.getAllCookies((_error, cookies) => {
    for (const { domain, path, key, expires } of cookies ?? []) {
      if (expires instanceof Date && expires.getTime() <= Date.now()) {
        store.removeCookie(domain ?? '', path ?? '', key, () => undefined);
      }
    }
  });
}

const to = (url: string) => {
  const { origin, pathname: path, search: query } = new URL(url);
  return { origin, path, query };
};

afterEach(() => {
  jest.useRealTimers();
});

test('stores and sends what tough-cookie stores and sends', () => {
  jest.useFakeTimers({ now: START });
  let compared = 0;
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 12 }), (events) => {
      const store = new MemoryCookieStore();
      const yardstick = new CookieJar(store, {
        rejectPublicSuffixes: false,
        prefixSecurity: 'silent',
        allowSpecialUseDomain: true,
      });
      let own: OwnJar = [];
      let now = 0;
      for (const { after, url, set, crossSite, post } of events) {
        now += after;
        jest.setSystemTime(START + now * 1000);
        evictExpired(store);
        const clock = new FixedClock(now);
        if (set !== null && !deviates(url, set)) {
          own = storeCookies(own, [set], to(url), clock).jar;
          yardstick.setCookieSync(fromNow(set, now), url, { ignoreError: true });
        }
        if (deviates(url, null)) continue;
        const context = crossSite ? (post ? 'none' : 'lax') : 'strict';
        const theirs = yardstick.getCookiesSync(url, { sameSiteContext: context, sort: true });
        // Without SameSite tough-cookie sends always; Chromium is the yardstick for that (tests/agreement/same-site.test.ts).
        const isSaid = ({ sameSite }: { readonly sameSite?: unknown }) =>
          (sameSite !== null && sameSite !== undefined) || context !== 'none';
        const expected = theirs.filter(isSaid);
        const how = { method: post ? ('POST' as const) : ('GET' as const), crossSite };
        const sent = cookieHeader(own.filter(isSaid), to(url), clock, how);
        expect(sent).toBe(expected.map((cookie) => `${cookie.key}=${cookie.value}`).join('; '));
        compared += expected.length;
      }
    }),
    {
      numRuns: 1500,
      examples: [
        [
          [
            { after: 0, url: OWN, set: 'b=1; Max-Age=9', crossSite: false, post: false },
            { after: 9, url: OWN, set: 'a=1', crossSite: false, post: false },
            // The first has been evicted by now: this is a new one.
            { after: 0, url: OWN, set: 'b=1', crossSite: false, post: false },
          ],
        ],
      ],
    },
  );
  expect(compared).toBeGreaterThan(500);
});

test('reads dates as JavaScript writes them, to the second (RFC 6265bis §5.1.1)', () => {
  fc.assert(
    fc.property(fc.integer({ min: -10_000_000_000, max: 10_000_000_000 }), (seconds) => {
      expect(parseCookieDate(new Date(START + seconds * 1000).toUTCString())).toBe(seconds);
    }),
  );
});

test.each([
  ['Thu, 01-Jan-26 00:00:05 GMT', 5],
  ['1 jan 2026 0:0:5', 5],
  ['00:00:05 2026 Jan 1', 5],
  ['Jan 1 2026', null],
  ['Thu, 32 Jan 2026 00:00:00 GMT', null],
  ['Thu, 29 Feb 2026 00:00:00 GMT', null],
  ['Thu, 01 Jan 2026 24:00:00 GMT', null],
  ['Thu, 01 Jan 1600 00:00:00 GMT', null],
  ['', null],
])('%s is the second %s (RFC 6265bis §5.1.1)', (text, expected) => {
  expect(parseCookieDate(text)).toBe(expected);
});

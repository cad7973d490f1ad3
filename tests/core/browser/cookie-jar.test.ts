import { cookieHeader, storeCookies, type CookieJar } from '../../../src/core/browser/cookie-jar';
import { FixedClock } from '../../../src/core/time/clock';

const at = (seconds: number) => new FixedClock(seconds);
const to = (url: string) => {
  const { origin, pathname: path, search: query } = new URL(url);
  return { origin, path, query };
};
const kept = (headers: string[], url: string, seconds = 0, jar: CookieJar = []) =>
  storeCookies(jar, headers, to(url), at(seconds));

describe('storing (RFC 6265bis §5.7)', () => {
  test.each([
    ['step 8: secure needs a secure connection', 'a=1; Secure', 'http://app.example/', false],
    ['step 8: secure over https', 'a=1; Secure', 'https://app.example/', true],
    ['step 8: loopback counts as secure', 'a=1; Secure', 'http://localhost:3000/', true],
    ['step 8: so does 127.0.0.0/8', 'a=1; Secure', 'http://127.9.0.1/', true],
    ['step 8: and [::1]', 'a=1; Secure', 'http://[::1]:80/', true],
    ['step 8: a look-alike does not', 'a=1; Secure', 'http://localhost.example/', false],
    ['step 18: SameSite=None asks for Secure', 'a=1; SameSite=None', 'https://app.example/', false],
    ['step 20: __Secure- asks for Secure', '__Secure-a=1', 'https://app.example/', false],
    ['step 20: prefixes have no case', '__sEcUrE-a=1', 'https://app.example/', false],
    ['step 21: __Host- asks for Path=/', '__Host-a=1; Secure; Path=/x', 'https://app.example/', false],
    ['step 21: __Host- as it should be', '__Host-a=1; Secure; Path=/', 'https://app.example/', true],
  ])('%s', (_law, header, url, expected) => {
    const { jar, refused } = kept([header], url);
    expect(jar).toHaveLength(expected ? 1 : 0);
    expect(refused).toHaveLength(expected ? 0 : 1);
  });

  test.each([
    ['step 10: a domain above the host', 'a=1; Domain=app.example', 'https://x.app.example/', true],
    ['step 9: a domain below which anybody registers', 'a=1; Domain=example', 'https://app.example/', false],
    ['step 9: such a domain of two names', 'a=1; Domain=co.uk', 'https://app.co.uk/', false],
    ['step 9: its own host', 'a=1; Domain=localhost', 'https://localhost/', true],
    ['__Http- asks for HttpOnly', '__Http-a=1; Secure', 'https://app.example/', false],
    ['__Http- with both', '__http-a=1; Secure; HttpOnly', 'https://app.example/', true],
    [
      '__Host-Http- asks for what __Host- does',
      '__Host-Http-a=1; Secure; HttpOnly',
      'https://app.example/x',
      false,
    ],
    ['step 10: another domain', 'a=1; Domain=other.example', 'https://app.example/', false],
    ['step 10: a domain below the host', 'a=1; Domain=sub.app.example', 'https://app.example/', false],
    ['step 10: an address has no domain above it', 'a=1; Domain=0.0.1', 'https://127.0.0.1/', false],
    [
      'step 21: __Host- has no domain',
      '__Host-a=1; Secure; Path=/; Domain=app.example',
      'https://app.example/',
      false,
    ],
    ['step 22: without a name no prefix', '__Secure-a; Secure', 'https://app.example/', false],
  ])('%s', (_law, header, url, expected) => {
    expect(kept([header], url).jar).toHaveLength(expected ? 1 : 0);
  });

  test('step 16: an insecure origin does not put a cookie in the place of a secure one', () => {
    const secure = kept(['a=1; Secure; Path=/x'], 'https://app.example/');
    expect(kept(['a=2; Path=/x/y'], 'http://app.example/', 0, secure.jar).refused).toEqual(['a']);
    expect(kept(['a=2; Path=/z'], 'http://app.example/', 0, secure.jar).refused).toEqual([]);
    expect(kept(['a=2; Path=/x'], 'https://app.example/', 0, secure.jar).refused).toEqual([]);
  });

  test('step 23: a host-only cookie and one for the domain are two', () => {
    expect(kept(['a=1', 'a=2; Domain=app.example'], 'https://app.example/').jar).toHaveLength(2);
  });

  test('§5.6.2: Max-Age goes before Expires, whichever stands first', () => {
    const past = 'Expires=Thu, 01 Jan 2026 00:00:00 GMT';
    expect(
      kept([`a=1; ${past}; Max-Age=9`, `b=1; Max-Age=9; ${past}`, `c=1; ${past}`], 'https://app.example/')
        .jar,
    ).toHaveLength(2);
  });

  test('step 23: a cookie of the same name, host and path takes the place of the earlier one', () => {
    const { jar } = kept(['a=1', 'b=1', 'a=2'], 'https://app.example/');
    expect(jar.map(({ name, value }) => name + value)).toEqual(['a2', 'b1']);
  });

  test('§5.6.2: a life of zero drops the cookie, and only that one', () => {
    const first = kept(['a=1', 'b=1'], 'https://app.example/');
    const { jar } = kept(['a=; Max-Age=0'], 'https://app.example/', 5, first.jar);
    expect(jar.map(({ name }) => name)).toEqual(['b']);
  });

  test('a jar is never changed, only replaced', () => {
    const first = kept(['a=1'], 'https://app.example/').jar;
    kept(['a=2', 'b=1'], 'https://app.example/', 1, first);
    expect(first.map(({ value }) => value)).toEqual(['1']);
  });
});

describe('sending (RFC 6265bis §5.8)', () => {
  test('a life ends at the exact second', () => {
    const { jar } = kept(['a=1; Max-Age=60'], 'https://app.example/', 100);
    expect(cookieHeader(jar, to('https://app.example/'), at(159))).toBe('a=1');
    expect(cookieHeader(jar, to('https://app.example/'), at(160))).toBe('');
  });

  test.each([
    ['/x', '/x', true],
    ['/x', '/x/y', true],
    ['/x', '/xy', false],
    ['/x/', '/x/y', true],
    ['/x/', '/x', false],
    ['/', '/anything', true],
  ])('§5.1.4: the cookie path %s on %s: %s', (path, asked, expected) => {
    const { jar } = kept([`a=1; Path=${path}`], 'https://app.example/x/z');
    expect(cookieHeader(jar, to(`https://app.example${asked}`), at(0))).toBe(expected ? 'a=1' : '');
  });

  test('§5.1.4: without a path it is that of the folder', () => {
    const { jar } = kept(['a=1'], 'https://app.example/x/y/z');
    expect(cookieHeader(jar, to('https://app.example/x/y'), at(0))).toBe('a=1');
    expect(cookieHeader(jar, to('https://app.example/x'), at(0))).toBe('');
  });

  test('§5.8 step 2: longer paths first, then the older', () => {
    const { jar } = kept(['a=1; Path=/', 'b=1; Path=/x', 'c=1; Path=/'], 'https://app.example/x');
    expect(cookieHeader(jar, to('https://app.example/x'), at(0))).toBe('b=1; a=1; c=1');
  });

  test('a cookie goes to its own host only, on any port, and a secure one only over https', () => {
    const { jar } = kept(['a=1; Secure', 'b=1'], 'https://app.example/');
    expect(cookieHeader(jar, to('https://app.example:8443/'), at(0))).toBe('a=1; b=1');
    expect(cookieHeader(jar, to('http://app.example/'), at(0))).toBe('b=1');
    expect(cookieHeader(jar, to('https://sub.app.example/'), at(0))).toBe('');
  });
});

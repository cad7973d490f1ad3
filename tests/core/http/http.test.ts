import fc from 'fast-check';
import {
  addressReader,
  queryParameters,
  parameterOf,
  parseUrl,
  resolveAddress,
  targetOf,
  withParameter,
} from '../../../src/core/http/address';
import { cookieValue, readSetCookie, writeSetCookie } from '../../../src/core/http/cookies';

const HOME = { origin: 'https://app.example', path: '/a/b', query: '?c' };

describe('resolving a reference', () => {
  test.each([
    ['/x', '/x'],
    ['/x?y=1#z', '/x?y=1'],
    ['y', '/a/y'],
    ['../y', '/y'],
    ['/a/../../x', '/x'],
    ['?q', '/a/b?q'],
    ['/x?', '/x'],
  ])('%s stays on the site at %s', (reference, target) => {
    const address = resolveAddress(reference, HOME);
    expect(address?.origin).toBe(HOME.origin);
    expect(address && targetOf(address)).toBe(target);
  });

  test.each([
    '//evil.example',
    '/\\evil.example',
    '\\\\evil.example',
    '/\t/evil.example',
    'https://evil.example/x',
    'https:evil',
  ])('%s leads to another origin or is no address', (reference) => {
    expect(resolveAddress(reference, { ...HOME, origin: 'http://app.example' })?.origin).not.toBe(
      'http://app.example',
    );
  });

  test('is what the URL standard says, by whatever way it is worked out', () => {
    const odd = fc.string({
      unit: fc.constantFrom('/', '.', 'a', '?', '%', '#', '\\', ':', '@', '2', 'e', ' ', '-', 'é'),
    });
    fc.assert(
      fc.property(
        fc.oneof(
          odd,
          odd.map((text) => `/${text}`),
        ),
        (reference) => {
          const base = HOME.origin + HOME.path + HOME.query;
          const expected = parseUrl(reference, base);
          const address = resolveAddress(reference, HOME);
          expect(address && [address.origin, address.path, address.query]).toEqual(
            expected && [expected.origin, expected.pathname, expected.search],
          );
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('query parameters', () => {
  test('what was put in comes out', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (value) => {
        const target = withParameter('/in?failed', 'back', value);
        expect(parameterOf(target.slice(3), 'back')).toBe(value);
      }),
    );
  });

  test.each([
    ['?a=1&a=2', 'a', '1'],
    ['?a', 'a', ''],
    ['?b=x+y%2Fz', 'b', 'x y/z'],
    ['?b=%zz', 'b', '%zz'],
    ['?b=1', 'c', null],
    ['', 'c', null],
  ])('%s has %s = %s', (query, name, value) => {
    expect(parameterOf(query, name)).toBe(value);
  });
});

describe('Set-Cookie (RFC 6265bis §5.6)', () => {
  const nothing = { path: null, domain: null, maxAge: null, expires: null };
  const plain = { ...nothing, secure: false, httpOnly: false, sameSite: null };

  test.each([
    [
      'a pair and every attribute',
      'a=b; Path=/x; Max-Age=60; Secure; HttpOnly; SameSite=Lax',
      {
        ...nothing,
        name: 'a',
        value: 'b',
        path: '/x',
        secure: true,
        httpOnly: true,
        sameSite: 'lax',
        maxAge: 60,
      },
    ],
    [
      '§5.6.3: a dot before a Domain goes',
      'a=b; Domain=.Quay.example',
      { ...plain, name: 'a', value: 'b', domain: 'quay.example' },
    ],
    [
      '§5.6.1: Expires is a date',
      'a=b; Expires=Thu, 01 Jan 2026 00:00:09 GMT',
      { ...plain, name: 'a', value: 'b', expires: 9 },
    ],
    ['§5.6.1: an Expires that is none is ignored', 'a=b; Expires=soon', { ...plain, name: 'a', value: 'b' }],
    ['§5.6 step 3: without "=" the name is empty', 'b', { ...plain, name: '', value: 'b' }],
    [
      '§5.6 step 4: white space around goes',
      ' a = b c ; secure ',
      { ...plain, name: 'a', value: 'b c', secure: true },
    ],
    ['an "=" in the value belongs to it', 'a=b=c', { ...plain, name: 'a', value: 'b=c' }],
    ['an "=" in an attribute starts no name', 'b; Path=/', { ...plain, name: '', value: 'b', path: '/' }],
    [
      '§5.6.2: a Max-Age that is no number is ignored',
      'a=b; Max-Age=soon',
      { ...plain, name: 'a', value: 'b' },
    ],
    ['§5.6.2: a negative Max-Age counts', 'a=b; Max-Age=-1', { ...plain, name: 'a', value: 'b', maxAge: -1 }],
    [
      '§5.6.4: a Path that does not start with a slash is none',
      'a=b; Path=x',
      { ...plain, name: 'a', value: 'b' },
    ],
    [
      '§5.6.7: an unknown SameSite is the default',
      'a=b; SameSite=Maybe',
      { ...plain, name: 'a', value: 'b' },
    ],
    [
      'the last of an attribute counts',
      'a=b; Path=/x; Path=/y',
      { ...plain, name: 'a', value: 'b', path: '/y' },
    ],
    ['an unknown attribute is ignored', 'a=b; Colour=red', { ...plain, name: 'a', value: 'b' }],
  ])('%s', (_law, header, cookie) => {
    expect(readSetCookie(header)).toEqual(cookie);
  });

  test('§5.6 step 5: nothing at all, and more than 4096 octets, are ignored', () => {
    expect(readSetCookie('=; Path=/')).toBeNull();
    expect(readSetCookie(`a=${'b'.repeat(4096)}`)).toBeNull();
    expect(readSetCookie(`a=${'b'.repeat(4095)}`)).not.toBeNull();
  });

  test('what is written is read back', () => {
    fc.assert(
      fc.property(
        fc.record({
          name: fc.stringMatching(/^[\w-]{1,9}$/),
          value: fc.stringMatching(/^[\w-]{0,9}$/),
          path: fc.constantFrom('/', '/x', null),
          domain: fc.constantFrom('app.example', null),
          secure: fc.boolean(),
          httpOnly: fc.boolean(),
          sameSite: fc.constantFrom('lax' as const, 'strict' as const, 'none' as const, 'unset' as const),
          maxAge: fc.option(fc.integer()),
        }),
        (cookie) => {
          expect(readSetCookie(writeSetCookie(cookie))).toEqual({
            ...cookie,
            sameSite: cookie.sameSite === 'unset' ? null : cookie.sameSite,
            expires: null,
          });
        },
      ),
    );
  });

  test.each([
    ['a=1; b=2', 'b', '2'],
    ['ab=1; b=2', 'b', '2'],
    ['b=1; b=2', 'b', '1'],
    ['b=', 'b', ''],
    ['a=b=2', 'b', null],
    ['', 'b', null],
  ])('of the Cookie header "%s" %s is %s', (header, name, value) => {
    expect(cookieValue(header, name)).toBe(value);
  });
});

describe('a slash at the end of an address', () => {
  test.each([
    ['/in/', '/in'],
    ['/in/?next=/office/', '/in?next=/office'],
    ['/in?next=%2Foffice%2F&tab=2', '/in?next=%2Foffice&tab=2'],
    ['/', '/'],
    ['/?next=/', '/?next=/'],
    ['/in?path=a/b', '/in?path=a/b'],
    ['/a/b', '/a/b'],
  ])('%s is read as %s where it is the same with and without', (address, read) => {
    expect(addressReader({ trailingSlash: 'same' })(address)).toBe(read);
    expect(addressReader({ trailingSlash: 'different' })(address)).toBe(address);
    expect(addressReader({ trailingSlash: 'redirected' })(address)).toBe(address);
  });
});

test('the parameters of a query are decoded as those of a form', () => {
  const expected = [...new URLSearchParams('?a=1&b=x+y%2Fz&c&a=%25&=q').entries()];
  expect(queryParameters('?a=1&b=x+y%2Fz&c&a=%25&=q')).toEqual(expected);
  expect(queryParameters('')).toEqual([]);
});

import { fault, good, READERS } from '../support/read-source';

describe('a recording', () => {
  const entry = (more: { request?: object; response?: object; [key: string]: unknown } = {}) => {
    const { request, response, ...rest } = more;
    return {
      startedDateTime: '2026-05-01T10:00:01.000Z',
      request: { method: 'GET', url: 'https://harbour.example/a', headers: [], ...request },
      response: { status: 200, headers: [], content: {}, ...response },
      ...rest,
    };
  };
  const read = (...entries: unknown[]) => good(READERS.har(JSON.stringify({ log: { entries } })));

  // How browsers differ: one header for each cookie or a line for each in one; a kind of resource, a destination or only Accept.
  test.each([
    [{ request: { headers: [{ name: 'Sec-Fetch-Dest', value: 'document' }] } }, true],
    [{ request: { headers: [{ name: 'sec-fetch-dest', value: 'iframe' }] } }, false],
    [{ _resourceType: 'document' }, true],
    [{ _resourceType: 'fetch', request: { headers: [{ name: 'Accept', value: 'text/html' }] } }, false],
    [{ request: { headers: [{ name: 'Accept', value: 'text/html,*/*' }] } }, true],
    [
      {
        request: {
          headers: [
            { name: 'Accept', value: 'text/html' },
            { name: 'X-Requested-With', value: 'XMLHttpRequest' },
          ],
        },
      },
      false,
    ],
  ])('%j is asked for as a page: %s', (more, isDocument) => {
    expect(read(entry(more)).exchanges[0]?.isDocument).toBe(isDocument);
  });

  test.each([-1, 0, 99, 600, 200.5, '200'])('the status %j is that of no answer', (status) => {
    expect(read(entry({ response: { status } })).exchanges[0]?.status).toBe(0);
  });

  test.each(['get', 'POST', 'CONNECT', 'PSOST', ':', ''])(
    'the method %j is one of a page or left out',
    (method) => {
      expect(read(entry({ request: { method } })).exchanges.map((each) => each.method)).toEqual(
        /^(?:get|POST)$/.test(method) ? [method.toUpperCase()] : [],
      );
    },
  );

  test('gives cookies lives, by the clock of whoever set them', () => {
    const value = 'a=1; Max-Age=60\nb=2; Expires=Fri, 01 May 2026 11:00:00 GMT; Secure\nc=3';
    const headers = [
      { name: 'Set-Cookie', value },
      { name: 'set-cookie', value: 'd=; Expires=Thu, 01 Jan 1970 00:00:00 GMT' },
      { name: 'Date', value: 'Fri, 01 May 2026 10:29:58 GMT' },
    ];
    const [first] = read(entry({ response: { headers } })).exchanges;
    expect(first?.setCookies.map(({ name, maxAge, secure }) => [name, maxAge, secure])).toEqual([
      ['a', 60, false],
      // Two seconds for an answer make no other life.
      ['b', 1800, true],
      ['c', null, false],
      ['d', expect.any(Number), false],
    ]);
    expect(first?.setCookies[3]?.maxAge).toBeLessThan(0);
  });

  test.each([
    [
      { mimeType: 'application/json', text: '{"user":{"mail":"m"},"password":"p","n":1,"x":[true]}' },
      [
        ['user/mail', 'm'],
        ['password', 'p'],
        ['n', '1'],
        ['x/0', 'true'],
      ],
    ],
    [
      { mimeType: 'application/x-www-form-urlencoded', text: 'a=1+2&b=%C3%A4' },
      [
        ['a', '1 2'],
        ['b', 'ä'],
      ],
    ],
    [
      { mimeType: 'application/x-www-form-urlencoded', params: [{ name: 'a%5B%5D', value: 'x%2By' }] },
      [['a[]', 'x+y']],
    ],
    [{ mimeType: 'application/json', text: '{broken' }, []],
  ])('%j sends %j', (postData, fields) => {
    expect(read(entry({ request: { postData } })).exchanges[0]?.fields).toEqual(fields);
  });

  test('is put in order, and loses only what is no request of the web', () => {
    const at = (startedDateTime: string, url: string) => entry({ startedDateTime, request: { url } });
    const { exchanges, isWithoutCookies } = read(
      at('2026-05-01T10:00:05Z', 'https://harbour.example/b?x=1#y'),
      { nonsense: true },
      at('2026-05-01T10:00:03Z', 'https://harbour.example/a'),
      at('2026-05-01T10:00:04Z', 'data:text/plain,x'),
      at('2026-05-01T10:00:04Z', 'no address'),
    );
    expect(exchanges.map(({ at: time, path, query }) => [time, path, query])).toEqual([
      [0, '/a', ''],
      [2, '/b', 'x=1'],
    ]);
    expect(isWithoutCookies).toBe(true);
  });

  test('knows how long a token is good by what is in it', () => {
    const part = (value: object) => Buffer.from(JSON.stringify(value)).toString('base64url');
    const token = `${part({ alg: 'HS256' })}.${part({ iat: 100, exp: 400 })}.x`;
    const headers = [{ name: 'Authorization', value: `Bearer ${token}` }];
    expect(read(entry({ request: { headers } })).lives).toEqual(new Map([[token, 300]]));
  });

  test.each(['', 'null', '[]', '{"log":{}}', '{"log":{"entries":"x"}}', '{"log":', 'GIF89a'])(
    '%j is refused',
    (text) => {
      expect(fault(READERS.har(text))[2]).toMatch(/HAR/);
    },
  );
});

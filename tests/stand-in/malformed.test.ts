import { connect } from 'node:net';
import { Asked, FORM, type Headers } from '../support/asked-stand-in';

let asked: Asked;
afterEach(async () => {
  await asked.standIn.stop();
});

describe('what is malformed is refused, and the server lives', () => {
  const big = 'x'.repeat(70_000);
  test.each([
    ['a host of somebody else', 'GET', '/', { host: 'evil.example' }, '', 421],
    ['bad percent-encoding', 'GET', '/%zz', {}, '', 400],
    ['an address that climbs out', 'GET', '/../../etc', {}, '', 400],
    ['an encoded slash', 'GET', '/a%2fb', {}, '', 400],
    ['cookies too large', 'GET', '/', { cookie: `a=${big.slice(0, 20_000)}` }, '', 431],
    ['a cookie twice', 'GET', '/', { cookie: 'session=a; other=b; session=c' }, '', 400],
    ['a body too large', 'POST', '/in', FORM, `account=${big}`, 413],
    ['a body of the wrong type', 'POST', '/in', { 'content-type': 'text/plain' }, 'account=ann', 415],
    ['JSON that is none', 'POST', '/in', { 'content-type': 'application/json' }, '{', 400],
    ['broken escapes in a form', 'POST', '/in', FORM, 'account=%zz&password=%', 303],
  ] as [string, string, string, Headers, string, number][])(
    '%s',
    async (_what, method, target, headers, body, status) => {
      asked = await Asked.start();
      expect((await asked.ask(method, target, headers, body)).status).toBe(status);
      expect((await asked.ask('GET', '/')).status).toBe(200);
    },
  );

  /** What a server says to bytes that are sent as they are; empty where it hangs up without a word. */
  const say = (bytes: string, hangUp: boolean): Promise<string> =>
    new Promise((settle) => {
      const { hostname, port } = new URL(asked.standIn.address);
      const socket = connect(Number(port), hostname, () => {
        if (hangUp) socket.end(bytes);
        else socket.write(bytes);
      });
      let said = '';
      socket.on('data', (part) => (said += part.toString()));
      socket.on('error', () => undefined);
      socket.on('close', () => {
        settle(said);
      });
    });

  test.each([
    ['no HTTP', 'what is this\r\n\r\n', /^HTTP\/1\.1 400/],
    [
      'a body cut short',
      'POST /in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 50\r\n\r\nacc',
      /^(HTTP\/1\.1 400.*)?/,
    ],
    [
      'two lengths',
      'POST /in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 1\r\nContent-Length: 2\r\n\r\na',
      /^HTTP\/1\.1 400/,
    ],
    ['no host', 'GET / HTTP/1.1\r\n\r\n', /^HTTP\/1\.1 400/],
  ])('%s', async (_what, bytes, answer) => {
    asked = await Asked.start();
    expect(await say(bytes, true)).toMatch(answer);
    expect((await asked.ask('GET', '/')).status).toBe(200);
  });

  /** Headers within the limit of their size that are a lot to read, each sent a hundred times. */
  const BOMBS: readonly [string, string][] = [
    ['many headers', Array.from({ length: 1_900 }, (_, at) => `${at.toString(36)}: x`).join('\r\n')],
    ['one header many times', 'Cookie: a=b\r\n'.repeat(1_100).trimEnd()],
    ['a proxy many times', 'X-Forwarded-Proto: https\r\n'.repeat(580).trimEnd()],
    ['many cookies', `Cookie: ${'s=;'.repeat(5_000)}`],
    ['many quotes in a cookie', `Cookie: session=${'"'.repeat(15_000)}`],
    ['many equals signs', `Cookie: session${'='.repeat(15_000)}`],
    ['many dots in a token', `Authorization: Bearer ${'.'.repeat(15_000)}`],
    ['many spaces before a token', `Authorization: Bearer${' '.repeat(15_000)}x`],
    ['a token of equals signs', `Authorization: Bearer ${'a='.repeat(7_500)}`],
    ['many types', `Accept: ${'text/x;q=0.1,'.repeat(1_100)}text/html`],
    ['a type of many plus signs', `Content-Type: application/${'+'.repeat(15_000)}\r\nContent-Length: 1`],
    ['many addresses', `X-Forwarded-For: ${'::1,'.repeat(3_700)}1.2.3.4`],
    ['an address of many colons', `X-Forwarded-For: ${':'.repeat(15_000)}`],
    ['a page of many slashes', `Referer: http://127.0.0.1/${'/'.repeat(15_000)}`],
    ['a page of many signs', `Referer: ${'http://[%'.repeat(1_600)}`],
    ['a body by pieces', `Transfer-Encoding: chunked\r\nTrailer: ${'x,'.repeat(7_000)}`],
    [
      'a packed body',
      'Content-Type: application/x-www-form-urlencoded\r\nContent-Encoding: gzip\r\nContent-Length: 1',
    ],
    ['another protocol', 'Connection: upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Key: x'],
  ];
  test.each(BOMBS)('%s in the head of a request', async (_what, head) => {
    asked = await Asked.withTokens();
    const before = process.cpuUsage();
    for (const target of ['/api/a', '/desk', '/-/']) {
      for (const method of ['GET', 'POST']) {
        const all = Array.from({ length: 20 }, () =>
          say(
            `${method} ${target} HTTP/1.1\r\nHost: 127.0.0.1\r\n${head}\r\nConnection: close\r\n\r\n`,
            true,
          ),
        );
        for (const answer of await Promise.all(all)) expect(answer).toMatch(/^(?:HTTP\/1\.1 [234]\d\d |$)/);
      }
    }
    const { user, system } = process.cpuUsage(before);
    expect((user + system) / 1e6).toBeLessThan(5);
    expect((await asked.ask('GET', '/')).status).toBe(200);
  });

  test('a request that never ends is given up', async () => {
    asked = await Asked.start();
    expect(await say('GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ', false)).toMatch(/^HTTP\/1\.1 408/);
    expect((await asked.ask('GET', '/')).status).toBe(200);
  }, 120_000);
});

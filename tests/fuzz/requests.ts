import { connect } from 'node:net';
import { loadProject, sourceOf } from '../../src/core/internal';
import { startStandIn, type StandIn } from '../../src/stand-in/server';
import type { Fuzzer } from './fuzzer';
import type { Random } from './random';

const POLICY = `cavrin: 1
app: Fuzz
origin: https://fuzz.example
roles: { clerk: [] }
accounts: { ann: { password: a, roles: [clerk] }, jörg: { password: j } }
pages:
  /: { for: everyone }
  /in: { for: guests }
  /join: { for: guests }
  /code: { for: signed-in }
  /desk: { for: [clerk] }
  /büro: { for: signed-in }
  /of/:owner: { for: { account: owner } }
  /api/me: { for: signed-in, kind: api }
rules: [{ path: /tls/**, for: everyone, scheme: https }, { matches: '^/x(a|b)*/', for: signed-in }]
login: { page: /in, submit: POST /in, by: both, return: { accept: anything } }
sign-up: { page: /join, submit: POST /join, roles: [clerk], then: confirm, lands: / }
confirm: { path: /confirm/:token, life: 1h }
landing: [{ role: clerk, to: /desk }, { otherwise: /büro }]
logout: { submit: POST /out }
session: { idle: 30m, absolute: 8h }
remember: { life: 30d }
tokens: { access: { life: 5m }, refresh: { life: 1h }, revoke: POST /oauth/revoke }
`;

/** Requests as bytes to a stand-in, which is reset now and then. */
export async function requestFuzzer(): Promise<Fuzzer> {
  const standIn = await startFuzzed();
  const { address, secret } = standIn;
  let sent = 0;
  return {
    what: 'requests',
    often: 3,
    make: rawRequest,
    async faultOf(request) {
      const fault = answerFault(request, await sendRaw(address, request));
      sent += 1;
      if (fault !== null || sent % RESET_EVERY !== 0) return fault;
      await sendRaw(
        address,
        bare('POST /-/reset', `Authorization: Bearer ${secret}\r\nContent-Length: 0\r\n`),
      );
      const alive = await sendRaw(address, bare('GET /'));
      return alive.startsWith('HTTP/1.1 200') ? null : 'the stand-in no longer answers';
    },
    async end() {
      await standIn.stop();
      return null;
    },
  };
}

const RESET_EVERY = 1_500;

function bare(line: string, headers = ''): string {
  return `${line} HTTP/1.1\r\nHost: 127.0.0.1\r\n${headers}Connection: close\r\n\r\n`;
}

async function startFuzzed(): Promise<StandIn> {
  const { policy } = await loadProject(sourceOf('fuzz.yaml', POLICY), []);
  if (policy === null) throw new Error('the policy of the requests cannot be used');
  const assets = { script: '', style: '', icon: '' };
  return startStandIn({ policy, lineOf: () => 1, clock: 'virtual', host: '127.0.0.1', port: 0, assets });
}

const TARGETS = [
  ...[
    '/',
    '/in',
    '/join',
    '/desk',
    '/b%C3%BCro',
    '/of/ann',
    '/of/j%C3%B6rg',
    '/api/me',
    '/tls/x',
    '/xab/',
    '/out',
  ],
  ...[
    '//evil.example/x',
    '/tls//evil.example',
    '/\\evil.example',
    '/tls/%2e%2e//evil',
    '/%2f',
    '/%zz',
    '/a b',
    '*',
    'x',
  ],
  ...[
    'http://evil.example/',
    '/confirm/link-0',
    '/confirm/%63onfirm-0',
    '/oauth/token',
    '/oauth/revoke',
    '/.well-known/jwks.json',
  ],
  ...[
    '/-/',
    '/-/state',
    '/-/reset',
    '/-/clock',
    '/-/suspend',
    '/-/set-roles',
    '/-/../in',
    '/in?back=//evil.example',
    '/in?back=%0d%0aX:y',
    '/ü',
  ],
];
const METHODS = [
  'GET',
  'POST',
  'HEAD',
  'PUT',
  'DELETE',
  'OPTIONS',
  'PATCH',
  'TRACE',
  'CONNECT',
  'get',
  'BREW',
  '',
];
const HEADERS = [
  ...[
    'Cookie: session=x',
    'Cookie: session=session-0; session=b',
    'Cookie: remember=;;=',
    'Authorization: Bearer a.b.c',
  ],
  ...['Authorization: Basic x', 'Accept: text/html', 'Accept: application/json', 'X-Forwarded-Proto: http'],
  ...[
    'X-Forwarded-For: 1.2.3.4, ::1',
    'Referer: http://[',
    'Referer: /',
    'Origin: null',
    'Host: localhost',
    'Host: evil.example',
  ],
  ...[
    'Content-Type: application/json',
    'Content-Type: application/x-www-form-urlencoded',
    'Content-Type: x',
    'Transfer-Encoding: chunked',
  ],
  ...[
    'Content-Length: 5',
    'Content-Length: -1',
    'Connection: upgrade',
    'Upgrade: h2c',
    'Expect: 100-continue',
    'X:\u0001',
    ' folded: x',
  ],
];
const BODIES = [
  ...[
    '',
    'account=ann&password=a',
    'account=guest&password=x',
    'account=%00&password=%ff',
    'as=ann',
    'back=//evil.example',
  ],
  ...[
    'account=ann&password=a&back=https://%E6%97%A5.example/%0D%0Aa:b',
    '{"account":"ann","password":"a"}',
    '[1',
    'null',
    '{"__proto__":{}}',
  ],
  ...[
    'grant_type=refresh_token&refresh_token=refresh-0',
    'token=access-0',
    'wait=5m',
    'wait=-1',
    'to=9e9',
    'account=ann&roles=x',
    'a=b&'.repeat(300),
  ],
];

/** A request as bytes that may be anything. */
function rawRequest(random: Random): string {
  const headers = Array.from({ length: random.below(5) }, () => random.of(HEADERS));
  const body = random.of(BODIES);
  const form = random.chance(0.6) ? ['Content-Type: application/x-www-form-urlencoded'] : [];
  const lines = [
    `${random.of(METHODS)} ${random.of(TARGETS)} HTTP/1.${random.chance(0.95) ? 1 : random.below(10)}`,
    ...(random.chance(0.95) ? ['Host: 127.0.0.1'] : []),
    ...form,
    ...headers,
    `Content-Length: ${random.chance(0.95) ? Buffer.byteLength(body) : random.below(100)}`,
    'Connection: close',
  ];
  let text = `${lines.join('\r\n')}\r\n\r\n${body}`;
  if (random.chance(0.2)) {
    const at = random.below(text.length);
    text = text.slice(0, at) + String.fromCharCode(random.below(256)) + text.slice(at + random.below(3));
  }
  return text;
}

/** Sends bytes and gives what comes back. */
function sendRaw(address: string, bytes: string): Promise<string> {
  return new Promise((settle) => {
    const { hostname, port } = new URL(address);
    const socket = connect(Number(port), hostname, () => {
      socket.end(bytes, 'latin1');
    });
    let said = '';
    socket.setTimeout(15_000, () => socket.destroy());
    socket.on('data', (part) => (said += part.toString('latin1')));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      settle(said);
    });
  });
}

/** What is wrong with an answer; null where nothing is. */
function answerFault(request: string, answer: string): string | null {
  if (answer === '') return null;
  const [head = ''] = answer.split('\r\n\r\n', 1);
  const status = /^HTTP\/1\.1 (\d{3}) /.exec(head)?.[1];
  if (status === undefined) return `answers ${JSON.stringify(answer.slice(0, 80))}`;
  if (status.startsWith('5') && status !== '501' && status !== '503') return `answers ${status}`;
  const location = /^location: (.*)$/im.exec(head)?.[1];
  if (/[^\r\n\u0020-\u007e]/.test(head)) return 'a header holds more than ASCII';
  // Only this app, which says so, follows an address of somebody else after a login.
  const isAsked = /back=/.test(request);
  if (location !== undefined && !/^\/(?![/\\])/.test(location) && !isAsked) return `leads to ${location}`;
  if (/^(?:set-cookie|x|a): ?(?:a=)?b/im.test(head)) return 'a header was smuggled in';
  return null;
}

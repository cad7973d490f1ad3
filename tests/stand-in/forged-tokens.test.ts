import { createHmac, generateKeyPairSync, sign } from 'node:crypto';
import { exportSPKI, importJWK, type JWK } from 'jose';
import { Asked, cookies } from '../support/asked-stand-in';

let asked: Asked;
/** What ann's login handed out. */
let real: { readonly access_token: string; readonly refresh_token: string };
let session: string;
/** The public keys of the stand-in. */
let keys: readonly JWK[];

beforeEach(async () => {
  asked = await Asked.withTokens();
  const login = await asked.logIn();
  real = JSON.parse(login.body) as typeof real;
  session = cookies(login);
  ({ keys } = (await asked.json('/.well-known/jwks.json')) as { keys: JWK[] });
});
afterEach(async () => {
  await asked.standIn.stop();
});

const encoded = (value: unknown) => Buffer.from(JSON.stringify(value)).toString('base64url');
const decoded = (part = '') =>
  JSON.parse(Buffer.from(part, 'base64url').toString()) as Record<string, unknown>;
const own = generateKeyPairSync('ec', { namedCurve: 'P-256' });
const bySomebody = (text: string) =>
  sign('sha256', Buffer.from(text), { key: own.privateKey, dsaEncoding: 'ieee-p1363' }).toString('base64url');
const byHmac = (text: string, secret: string) =>
  createHmac('sha256', secret).update(text).digest('base64url');

/** The parts of a real token, and a head or body put otherwise. */
const parts = () => real.access_token.split('.') as [string, string, string];
const headOf = (more: object) => encoded({ ...decoded(parts()[0]), ...more });
const bodyOf = (more: object) => encoded({ ...decoded(parts()[1]), ...more });
const signedBySomebody = (head: string, body = parts()[1]) =>
  `${head}.${body}.${bySomebody(`${head}.${body}`)}`;

/** Tokens that nobody signed who may (RFC 8725 §2, RFC 7515 §10, RFC 7519 §7.2). */
const FORGED: Readonly<Record<string, () => string | Promise<string>>> = {
  'no algorithm (RFC 8725 §2.1)': () => `${headOf({ alg: 'none' })}.${parts()[1]}.`,
  'no algorithm in other letters': () => `${headOf({ alg: 'nOnE' })}.${parts()[1]}.`,
  'no algorithm, with the signature left on': () => `${headOf({ alg: 'none' })}.${parts()[1]}.${parts()[2]}`,
  'the public key as a secret (RFC 8725 §2.1)': async () => {
    const key = await importJWK(keys[0] ?? {}, 'ES256', { extractable: true });
    const text = `${headOf({ alg: 'HS256' })}.${parts()[1]}`;
    return `${text}.${byHmac(text, await exportSPKI(key as never))}`;
  },
  'the key set as a secret': () => {
    const text = `${headOf({ alg: 'HS256' })}.${parts()[1]}`;
    return `${text}.${byHmac(text, JSON.stringify(keys[0]))}`;
  },
  'another key by the same name': () => signedBySomebody(parts()[0]),
  'a key that comes with it (RFC 7515 §4.1.3)': () =>
    signedBySomebody(headOf({ jwk: own.publicKey.export({ format: 'jwk' }) })),
  'a key that lies elsewhere (RFC 7515 §4.1.2)': () =>
    signedBySomebody(headOf({ jku: `${asked.standIn.address}/-/walk`, kid: '../../dev/null' })),
  'another body under a real signature': () =>
    `${parts()[0]}.${bodyOf({ sub: 'bo', roles: ['chief'] })}.${parts()[2]}`,
  'another end under a real signature': () => `${parts()[0]}.${bodyOf({ exp: 9e9 })}.${parts()[2]}`,
  'another kind under a real signature': () => `${headOf({ typ: 'JWT' })}.${parts()[1]}.${parts()[2]}`,
  'a head that must be understood (RFC 7515 §4.1.11)': () => signedBySomebody(headOf({ crit: ['x'], x: 1 })),
  'a body that is not encoded (RFC 7797)': () => signedBySomebody(headOf({ b64: false, crit: ['b64'] })),
  'an empty signature': () => `${parts()[0]}.${parts()[1]}.`,
  'a signature of noughts (CVE-2022-21449)': () =>
    `${parts()[0]}.${parts()[1]}.${Buffer.alloc(64).toString('base64url')}`,
  'two parts': () => `${parts()[0]}.${parts()[1]}`,
  'five parts': () => `${real.access_token}.x.y`,
  'its id alone': () => String(decoded(parts()[1])['jti']),
  'the handle of a session': () => 'access-0',
  'a refresh token': () => real.refresh_token,
  'a session cookie': () => session.split('=')[1] ?? '',
  'a body of many brackets': () =>
    signedBySomebody(parts()[0], Buffer.from('['.repeat(9_000)).toString('base64url')),
  'a great text': () => `${parts()[0]}.${'A'.repeat(10_000)}.${parts()[2]}`,
  nothing: () => '',
};

test('the real one is taken, at any writing of its scheme (RFC 9110 §11.1)', async () => {
  for (const scheme of ['Bearer', 'bearer', 'BEARER']) {
    const { status } = await asked.ask('GET', '/api/a', { authorization: `${scheme} ${real.access_token}` });
    expect(status).toBe(200);
  }
});

test.each(Object.entries(FORGED))('a forged token is nobody’s: %s', async (_, make) => {
  const token = await make();
  expect(token).not.toBe(real.access_token);
  const { status, headers } = await asked.ask('GET', '/api/a', { authorization: `Bearer ${token}` });
  expect(status).toBe(401);
  expect(String(headers['www-authenticate'])).toMatch(/^Bearer\b/);
  const revoked = await asked.post('/oauth/revoke', { token });
  expect(revoked.status).toBe(200);
  if (token !== real.refresh_token) {
    const exchanged = await asked.post('/oauth/token', { grant_type: 'refresh_token', refresh_token: token });
    expect(exchanged.status).toBe(400);
    const { status: after } = await asked.ask('GET', '/api/a', {
      authorization: `Bearer ${real.access_token}`,
    });
    expect(after).toBe(200);
  }
  if (!session.endsWith(`=${token}`)) {
    expect((await asked.ask('GET', '/desk', { cookie: `session=${token}` })).status).toBe(302);
  }
});

test('a token of another start is nobody’s', async () => {
  const other = await Asked.withTokens();
  try {
    const login = JSON.parse((await other.logIn()).body) as typeof real;
    const authorization = `Bearer ${login.access_token}`;
    expect((await other.ask('GET', '/api/a', { authorization })).status).toBe(200);
    expect((await asked.ask('GET', '/api/a', { authorization })).status).toBe(401);
  } finally {
    await other.standIn.stop();
  }
});

// An api with short access tokens and refresh tokens that rotate, and the shell of a single page for everything else: express and jose.
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import express from 'express';
import { jwtVerify, SignJWT } from 'jose';
import { hasBug, people, personWith } from '../people.mjs';

const ACCESS = 300;
const REFRESH = 3600;
const LONGEST = 12 * 3600;
const key = randomBytes(32);
const now = () => Math.floor(Date.now() / 1000);

/** Refresh tokens by their text, and the logins that they go back to. */
const tokens = new Map();

async function issue(family) {
  const { roles } = people.get(family.account);
  const access = await new SignJWT({ roles })
    .setProtectedHeader({ alg: 'HS256' })
    .setSubject(family.account)
    .setIssuedAt(now())
    .setExpirationTime(now() + ACCESS)
    .sign(key);
  const refresh = randomBytes(24).toString('base64url');
  tokens.set(refresh, { family, issuedAt: hasBug('slide') ? family.startedAt : now(), isUsed: false });
  return { access_token: access, token_type: 'Bearer', expires_in: ACCESS, refresh_token: refresh };
}

const app = express();
app.disable('x-powered-by');
const api = express.Router();
api.use(express.urlencoded({ extended: false }), express.json());

api.use(async (request, response, next) => {
  const [, token] = /^Bearer (.+)$/.exec(request.headers.authorization ?? '') ?? [];
  if (token !== undefined) {
    const verified = await jwtVerify(token, key, { currentDate: new Date() }).catch(() => null);
    request.who = verified === null ? null : { name: verified.payload.sub, roles: verified.payload.roles };
  }
  response.set('x-seen-as', request.who?.name ?? 'guest').set('cache-control', 'no-store');
  next();
});

const guard =
  (role = null) =>
  (request, response, next) => {
    if (!request.who) return response.status(401).set('www-authenticate', 'Bearer').json({ error: 'login' });
    if (role !== null && !request.who.roles.includes(role)) return response.status(403).json({ error: 'role' });
    next();
  };

api.post('/sign-in', async (request, response) => {
  const { account = '', password = '' } = request.body ?? {};
  const person = personWith(account, password);
  if (person === null) return response.status(401).json({ error: 'wrong' });
  response.json(await issue({ account, startedAt: now(), hasEnded: false }));
});

api.post('/token', async (request, response) => {
  const refused = () => response.status(401).json({ error: 'invalid_grant' });
  const token = tokens.get(request.body?.refresh_token);
  if (token === undefined || token.family.hasEnded || !people.get(token.family.account)?.active) return refused();
  if (now() - token.family.startedAt >= LONGEST) return refused();
  if (token.isUsed) {
    token.family.hasEnded = true;
    return refused();
  }
  if (now() - token.issuedAt >= REFRESH) return refused();
  token.isUsed = true;
  response.set('x-seen-as', token.family.account).json(await issue(token.family));
});

api.post('/sign-out', (request, response) => {
  const token = tokens.get(request.body?.refresh_token);
  if (token !== undefined && !hasBug('logout')) token.family.hasEnded = true;
  response.status(204).set('x-seen-as', 'guest').end();
});

api.get('/loans', guard(), (request, response) => response.json({ loans: [request.who.name] }));
api.post('/loans', guard(), (_request, response) => response.status(201).json({}));
api.delete('/loans/:id', guard(hasBug('submit') ? null : 'clerk'), (_request, response) => response.status(204).end());
api.get('/safe', guard('chief'), (_request, response) => response.json({ safe: 'nothing' }));
api.use((_request, response) => response.status(404).json({ error: 'unknown' }));
app.use('/api', api);

const file = (name) => readFileSync(new URL(name, import.meta.url), 'utf8');
const [shell, sound] = [file('shell.html'), file('front-end.js')];
const script = hasBug('landing')
  ? sound.replace('go(landing(who))', "go('/shelf')")
  : hasBug('return')
    ? sound.replace('  await go(url?.origin', '  if (url !== null) return location.assign(url.href);\n  await go(url?.origin')
    : sound;
app.get('/front-end.js', (_request, response) => response.type('text/javascript').send(script));
app.get('/{*rest}', (_request, response) => response.set('x-seen-as', 'guest').set('cache-control', 'no-store').type('html').send(shell));
app.use((_request, response) => response.status(404).set('x-seen-as', 'guest').send('Not found'));

const server = app.listen(Number(process.env.PORT ?? 0), '127.0.0.1', () => {
  process.send?.({ port: server.address().port });
});

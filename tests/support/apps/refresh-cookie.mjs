/* global document, history, location */
// A single page whose script holds an access token in memory only, and gets a new one at each load by a cookie that it cannot read: express
// and jose.
import { randomBytes } from 'node:crypto';
import express from 'express';
import { jwtVerify, SignJWT } from 'jose';
import { people, personWith } from '../../../examples/real/people.mjs';

const key = randomBytes(32);
const refreshTokens = new Map();
const app = express();
app.disable('x-powered-by');
app.use(express.json());

const cookieOf = ({ headers }) => /(?:^|; )refresh_token=([^;]+)/.exec(headers.cookie ?? '')?.[1];
async function issue(response, name) {
  const token = randomBytes(24).toString('base64url');
  refreshTokens.set(token, name);
  const rules = { httpOnly: true, sameSite: 'strict', path: '/api/auth', maxAge: 7 * 86_400_000 };
  const accessToken = await new SignJWT({ roles: people.get(name).roles })
    .setProtectedHeader({ alg: 'HS256' })
    .setSubject(name)
    .setIssuedAt()
    .setExpirationTime('600s')
    .sign(key);
  response.cookie('refresh_token', token, rules).json({ accessToken });
}

app.post('/api/auth/login', async (request, response) => {
  const { username = '', password = '' } = request.body ?? {};
  if (personWith(username, password) === null) return response.status(401).json({});
  await issue(response, username);
});
app.post('/api/auth/refresh', async (request, response) => {
  const name = refreshTokens.get(cookieOf(request));
  if (name === undefined) return response.status(401).json({});
  refreshTokens.delete(cookieOf(request));
  await issue(response, name);
});
app.post('/api/auth/logout', (request, response) => {
  refreshTokens.delete(cookieOf(request));
  response.clearCookie('refresh_token', { path: '/api/auth' }).status(204).end();
});

const guard =
  (role = null) =>
  async (request, response, next) => {
    const [, token] = /^Bearer (.+)$/.exec(request.headers.authorization ?? '') ?? [];
    const verified = await jwtVerify(token ?? '', key).catch(() => null);
    if (verified === null) return response.status(401).json({});
    request.roles = verified.payload.roles;
    return role === null || request.roles.includes(role) ? next() : response.status(403).json({});
  };
app.get('/api/me', guard(), (request, response) => response.json({ roles: request.roles }));
app.get('/api/todos', guard(), (_request, response) => response.json([]));
app.get('/api/reports', guard('clerk'), (_request, response) => response.json([]));
app.get('/api/users', guard('chief'), (_request, response) => response.json([]));

/** The script of the page, as a function that is sent as text. */
function frontEnd() {
  const PAGES = {
    '/': null,
    '/about': null,
    '/login': 'guests',
    '/todos': 'reader',
    '/reports': 'clerk',
    '/users': 'chief',
  };
  const DATA = { '/todos': '/api/todos', '/reports': '/api/reports', '/users': '/api/users' };
  const HOME = { reader: '/todos', clerk: '/reports', chief: '/users' };
  let token = null;
  let me = null;
  const call = (path, more = {}) =>
    fetch(path, {
      ...more,
      headers: { ...more.headers, ...(token ? { authorization: `Bearer ${token}` } : {}) },
    });
  const take = async (answer) => {
    token = (await answer.json()).accessToken;
    me = await (await call('/api/me')).json();
  };
  async function go(target, isNew = true) {
    const [path] = target.split('?');
    const who = PAGES[path];
    if (who === 'guests' && me) return go(HOME[me.roles.at(-1)]);
    if (who && who !== 'guests' && !me) return go(`/login?from=${encodeURIComponent(path)}`);
    if (who && who !== 'guests' && !me.roles.includes(who)) return go('/');
    if (isNew) history.pushState(null, '', target);
    if (DATA[path]) await call(DATA[path]);
    const isSeen = ([, role]) => role === null || (role === 'guests' ? !me : me?.roles.includes(role));
    const links = Object.entries(PAGES)
      .filter(isSeen)
      .map(([href]) => `<a href="${href}">${href}</a>`);
    const form =
      '<form id="in"><input name="username"><input name="password" type="password"><button>Go</button></form>';
    document.body.innerHTML = `${path === '/login' ? form : ''}${links.join(' ')}${me ? '<button id="out">Log out</button>' : ''}`;
    for (const link of document.querySelectorAll('a')) {
      link.onclick = (event) => {
        event.preventDefault();
        go(link.getAttribute('href'));
      };
    }
    document.getElementById('in')?.addEventListener('submit', async (event) => {
      event.preventDefault();
      const { username, password } = event.target;
      const body = JSON.stringify({ username: username.value, password: password.value });
      const answer = await call('/api/auth/login', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
      });
      if (!answer.ok) return;
      await take(answer);
      go(new URLSearchParams(location.search).get('from') ?? HOME[me.roles.at(-1)]);
    });
    document.getElementById('out')?.addEventListener('click', async () => {
      await call('/api/auth/logout', { method: 'POST' });
      [token, me] = [null, null];
      go('/login');
    });
  }
  (async () => {
    const answer = await call('/api/auth/refresh', { method: 'POST' });
    if (answer.ok) await take(answer);
    await go(location.pathname + location.search, false);
  })();
}
app.get('/{*rest}', (_request, response) =>
  response.send(`<!doctype html><title>Todos</title><body></body><script>(${frontEnd})()</script>`),
);
app.listen(Number(process.env.PORT), '127.0.0.1');

// An app of many pages whose script sends the login as JSON, and goes on by itself; the session is a cookie: express and express-session.
import express from 'express';
import session from 'express-session';
import { personWith } from '../../../examples/real/people.mjs';

const HOME = { reader: '/dashboard', clerk: '/articles', chief: '/admin' };
const homeOf = ({ roles }) => HOME[roles.at(-1)];

const app = express();
app.disable('x-powered-by');
app.use(express.json());
app.use(session({ secret: 'made up', resave: false, saveUninitialized: false, cookie: { sameSite: 'lax' } }));

const page = (title, body = '') => `<!doctype html><title>${title}</title>
<nav><a href="/">Home</a> <a href="/dashboard">Dashboard</a> <a href="/pricing">Pricing</a></nav><h1>${title}</h1>${body}`;
const OUT = `<button id="out">Log out</button><script>
  document.getElementById('out').onclick = async () => {
    await fetch('/api/auth/logout', { method: 'POST' });
    location.href = '/login';
  };
  fetch('/api/me');
</script>`;
const FORM = `<form id="in"><input name="email"><input name="password" type="password"><button>Go</button></form><script>
  const form = document.getElementById('in');
  form.onsubmit = async (event) => {
    event.preventDefault();
    const body = JSON.stringify({ email: form.email.value, password: form.password.value });
    const answer = await fetch('/api/auth/login', { method: 'POST', headers: { 'content-type': 'application/json' }, body });
    if (!answer.ok) return;
    const asked = new URLSearchParams(location.search).get('redirect');
    location.href = asked !== null && /^\\/(?!\\/)/.test(asked) ? asked : (await answer.json()).home;
  };
</script>`;

const guard =
  (role = null) =>
  (request, response, next) => {
    const { person } = request.session;
    const isApi = request.path.startsWith('/api/');
    if (!person) {
      const login = `/login?redirect=${encodeURIComponent(request.originalUrl)}`;
      return isApi ? response.status(401).json({}) : response.redirect(login);
    }
    if (role === null || person.roles.includes(role)) return next();
    return isApi ? response.status(403).json({}) : response.status(403).send(page('Forbidden'));
  };

app.get('/', (_request, response) => response.send(page('Home', '<a href="/login">Log in</a>')));
app.get('/pricing', (_request, response) => response.send(page('Pricing')));
app.get('/login', (request, response) =>
  request.session.person
    ? response.redirect(homeOf(request.session.person))
    : response.send(page('Log in', FORM)),
);
app.post('/api/auth/login', (request, response) => {
  const { email = '', password = '' } = request.body ?? {};
  const person = personWith(email.replace('@site.example', ''), password);
  if (person === null) return response.status(401).json({ error: 'wrong' });
  request.session.regenerate(() => {
    request.session.person = person;
    response.json({ home: homeOf(person) });
  });
});
app.post('/api/auth/logout', (request, response) =>
  request.session.destroy(() => response.clearCookie('connect.sid').status(204).end()),
);
app.get('/api/me', guard(), (request, response) => response.json({ roles: request.session.person.roles }));
const LINKS = '<a href="/articles">Articles</a> <a href="/admin">Admin</a> <a href="/orders/1">One</a>';
app.get('/dashboard', guard(), (_request, response) => response.send(page('Dashboard', OUT + LINKS)));
app.get('/orders/:id', guard(), (_request, response) => response.send(page('Order', OUT)));
app.get('/articles', guard('clerk'), (_request, response) => response.send(page('Articles', OUT)));
app.get('/admin', guard('chief'), (_request, response) => response.send(page('Admin', OUT)));
app.listen(Number(process.env.PORT), '127.0.0.1');

// An app of forms all of whose addresses end in a slash, with a sign-up, and with a login page for those too whose role may not: express and
// express-session.
import { randomBytes } from 'node:crypto';
import express from 'express';
import session from 'express-session';
import { personWith } from '../../../examples/real/people.mjs';

const app = express();
app.disable('x-powered-by');
app.use(express.urlencoded({ extended: false }));
const TWO_WEEKS = 1_209_600_000;
const cookie = { sameSite: 'lax', maxAge: TWO_WEEKS };
app.use(
  session({
    name: 'sessionid',
    secret: 'made up',
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie,
  }),
);

const cookieOf = ({ headers }) => /csrftoken=([^;]+)/.exec(headers.cookie ?? '')?.[1];
app.use((request, response, next) => {
  const token = cookieOf(request);
  if (request.method !== 'POST') return next();
  return token !== undefined && request.body.csrfmiddlewaretoken === token
    ? next()
    : response.status(403).send('forged');
});
/** A field with the token of the cookie, which the browser gets with the first form. */
function hidden(request, response) {
  const token = cookieOf(request) ?? randomBytes(24).toString('hex');
  if (cookieOf(request) === undefined) response.cookie('csrftoken', token, { sameSite: 'lax' });
  return `<input type="hidden" name="csrfmiddlewaretoken" value="${token}">`;
}
const page = ({ session: { person } }, title, body = '') => `<!doctype html><title>${title}</title>
<a href="/">Home</a> <a href="/profile/">Profile</a> <a href="/staff/">Staff</a> <a href="/admin/">Admin</a>
${person ? '<a href="/accounts/logout/">Log out</a>' : '<a href="/accounts/login/">Log in</a> <a href="/accounts/signup/">Sign up</a>'}
<h1>${title}</h1>${body}`;
const guard =
  (role = null) =>
  (request, response, next) => {
    const { person } = request.session;
    const may = person && (role === null || person.roles.includes(role));
    return may ? next() : response.redirect(`/accounts/login/?next=${request.originalUrl}`);
  };
const enter = (request, response, person, to) =>
  request.session.regenerate(() => {
    request.session.person = person;
    response.redirect(to);
  });

const shows = (title) => (request, response) => response.send(page(request, title));
const loginForm = (request, response, back) =>
  `<form method="post">${hidden(request, response)}<input name="username"><input type="password" name="password">
  <input type="hidden" name="next" value="${/^\/[\w/-]*$/.test(back ?? '') ? back : ''}"><button>Go</button></form>`;
app.get('/', shows('Home'));
app.get('/accounts/login/', (request, response) =>
  response.send(page(request, 'Log in', loginForm(request, response, request.query.next))),
);
app.post('/accounts/login/', (request, response) => {
  const { username = '', password = '', next = '' } = request.body;
  const person = personWith(username, password);
  if (person === null) return response.send(page(request, 'Log in', loginForm(request, response, next)));
  return enter(request, response, person, /^\/(?!\/)/.test(next) ? next : '/profile/');
});
app.get('/accounts/logout/', (request, response) =>
  request.session.destroy(() => response.clearCookie('sessionid').redirect('/')),
);
app.get('/accounts/signup/', (request, response) => {
  if (request.session.person) return response.redirect('/profile/');
  const fields =
    '<input name="username"><input type="password" name="password1"><input type="password" name="password2">';
  return response.send(
    page(
      request,
      'Sign up',
      `<form method="post">${hidden(request, response)}${fields}<button>Go</button></form>`,
    ),
  );
});
app.post('/accounts/signup/', (request, response) =>
  enter(request, response, { name: request.body.username, roles: ['reader'] }, '/welcome/'),
);
app.get('/welcome/', guard(), shows('Welcome'));
app.get('/profile/', guard(), shows('Profile'));
app.get('/staff/', guard('clerk'), shows('Staff'));
app.get('/admin/', guard('chief'), shows('Admin'));
app.listen(Number(process.env.PORT), '127.0.0.1');

// Pages from the server: express, sessions in a store with a sliding cookie, tokens in forms, a remember cookie that rotates,
// a refused login that is shown again, redirects after writing, a scanner with a key, and chiefs who act for readers.
import { randomBytes } from 'node:crypto';
import { csrfSync } from 'csrf-sync';
import express from 'express';
import session from 'express-session';
import { escaped, hasBug, people, personWith } from '../people.mjs';

const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;

const app = express();
app.disable('x-powered-by');
app.use(express.urlencoded({ extended: false }));
app.use(
  session({
    name: 'library.sid',
    secret: randomBytes(32).toString('hex'),
    resave: false,
    saveUninitialized: false,
    rolling: !hasBug('slide'),
    cookie: { httpOnly: true, sameSite: 'lax', maxAge: 30 * MINUTE },
  }),
);

// Known again: one token a login, changed at each use; one that comes a second time ends the whole series.
const remembered = new Map();
const keep = (response, account, series) => {
  const token = randomBytes(16).toString('hex');
  remembered.set(token, { account, series, used: false, until: Date.now() + 30 * DAY });
  response.cookie('library.keep', token, { httpOnly: true, sameSite: 'lax', maxAge: 30 * DAY });
};
const kept = (request) => /(?:^|; )library\.keep=([0-9a-f]+)/.exec(request.headers.cookie ?? '')?.[1];
const endSeries = (series) => {
  for (const [token, each] of remembered) if (each.series === series) remembered.delete(token);
};

const anew = (request) =>
  new Promise((settle, fail) => request.session.regenerate((error) => (error ? fail(error) : settle())));

app.use(async (request, response, next) => {
  const token = kept(request);
  const known = token === undefined ? undefined : remembered.get(token);
  if (request.session.account === undefined && known !== undefined && known.until > Date.now()) {
    if (known.used) {
      endSeries(known.series);
    } else if (people.get(known.account)?.active) {
      known.used = true;
      await anew(request);
      request.session.account = known.account;
      keep(response, known.account, known.series);
    }
  }
  const { account, acting } = request.session;
  const own = people.get(account);
  request.person = own?.active ? { name: account, ...own } : null;
  request.actor = null;
  // Whoever acts for a reader is that reader, as long as both may.
  const other = acting !== undefined && acting.until > Date.now() ? people.get(acting.account) : undefined;
  if (request.person?.roles.includes('chief') && other?.active && other.roles.includes('reader')) {
    request.actor = account;
    request.person = { name: acting.account, ...other };
  }
  const key = request.get('x-scanner-key');
  const scanner = people.get('scanner');
  request.isScanner = request.person === null && key !== undefined && scanner?.active && scanner.keys.at(-1) === key;
  if (request.isScanner) request.person = { name: 'scanner', ...scanner };
  response.set('x-seen-as', request.person?.name ?? 'guest');
  response.set('cache-control', 'no-store');
  next();
});

const { csrfSynchronisedProtection } = csrfSync({ getTokenFromRequest: ({ body }) => body?._csrf });
app.use((request, response, next) => (request.isScanner ? next() : csrfSynchronisedProtection(request, response, next)));

/** A page. Forms carry the token of the session: those of guests start one, so only where there is a form. */
const page = (request, title, content = '', hasForm = false) => {
  const { person } = request;
  const token =
    (person !== null && !request.isScanner) || hasForm
      ? `<input type="hidden" name="_csrf" value="${request.csrfToken()}" data-own />`
      : '';
  const links = [
    ['/catalogue', 'Catalogue', () => true],
    ['/loans', 'Loans', () => person !== null],
    ['/desk', 'Desk', () => person?.roles.includes('clerk')],
    ['/safe', 'Safe', () => person?.roles.includes('chief')],
  ].filter(([, , isFor]) => isFor());
  return `<!doctype html><html lang="en"><title>${title}</title>
    <nav><ul>${links.map(([to, text]) => `<li><a href="${to}">${text}</a></li>`).join('')}</ul></nav>
    ${person === null ? '' : `<form method="post" action="/sign-out" data-form="logout">${token}<button>Sign out</button></form>`}
    <main data-seen-as="${escaped(person?.name ?? 'guest')}"><h1>${title}</h1>${content.replaceAll('TOKEN', token)}</main></html>`;
};

const guard =
  (role = null) =>
  (request, response, next) => {
    const { person } = request;
    if (person === null) {
      if (request.method === 'GET') request.session.returnTo = request.originalUrl;
      return response.redirect(request.method === 'GET' ? 302 : 303, '/sign-in');
    }
    if (role !== null && !person.roles.includes(role)) return response.status(403).send(page(request, 'Not allowed'));
    next();
  };
// What a reader has borrowed is their own affair.
app.use((request, response, next) => {
  if (request.actor === null || hasBug('acting') || !/^\/loans\/./i.test(request.path)) return next();
  response.status(403).send(page(request, 'Not allowed'));
});
const guestsOnly = (request, response, next) => {
  if (request.person === null) return next();
  const to = hasBug('landing') ? '/catalogue' : landing(request.person);
  response.redirect(request.method === 'GET' ? 302 : 303, to);
};

const landing = ({ roles }) => (roles.includes('chief') ? '/safe' : roles.includes('clerk') ? '/desk' : '/catalogue');

const FORM = (account = '') => `<form method="post" action="/sign-in" data-form="login">TOKEN
  <p><input id="account" name="account" value="${escaped(account)}" /><input id="password" name="password" type="password" />
  <input type="checkbox" id="remember" name="remember" value="yes" /></p><p><button>Sign in</button></p></form>`;

app.get('/', (request, response) => response.send(page(request, 'Library')));
app.get('/catalogue', (request, response) => response.send(page(request, 'Catalogue')));
app.get('/sign-in', guestsOnly, (request, response) => {
  if (hasBug('return') && request.query.next) request.session.returnTo = request.query.next;
  response.send(page(request, 'Sign in', FORM(), true));
});

app.post('/sign-in', guestsOnly, async (request, response) => {
  const { account = '', password = '', remember } = request.body;
  const person = personWith(account, password);
  if (person === null) {
    const again = `<p role="alert" data-again="login">That is not right.</p>${FORM(account)}`;
    return response.status(401).send(page(request, 'Sign in', again, true));
  }
  const { returnTo } = request.session;
  await anew(request);
  request.session.account = account;
  if (remember === 'yes') keep(response, account, randomBytes(8).toString('hex'));
  response.redirect(303, returnTo ?? landing(person));
});

app.post('/sign-out', (request, response) => {
  const series = remembered.get(kept(request) ?? '')?.series;
  if (series !== undefined && !hasBug('logout')) endSeries(series);
  request.session.destroy(() => {
    response.clearCookie('library.sid');
    if (series !== undefined) response.clearCookie('library.keep');
    response.redirect(303, '/');
  });
});

const loans = new Set();
app.get('/loans', guard(), (request, response) => {
  response.send(page(request, 'Loans', `<form method="post" action="/loans">TOKEN<button>Borrow</button></form>`));
});
app.post('/loans', guard(), (request, response) => {
  loans.add(`${request.person.name} ${loans.size}`);
  response.redirect(303, '/loans');
});
app.get('/loans/:id', guard('clerk'), (request, response) => response.send(page(request, `Loan ${escaped(request.params.id)}`)));
app.post('/loans/:id', guard(hasBug('submit') ? null : 'clerk'), (request, response) => response.redirect(303, `/loans/${encodeURIComponent(request.params.id)}`));
app.get('/desk', guard('clerk'), (request, response) => response.send(page(request, 'Desk')));
app.get('/safe', guard('chief'), (request, response) => response.send(page(request, 'Safe')));

app.post('/desk/as-myself', guard(), async (request, response) => {
  const account = request.actor ?? request.person.name;
  await anew(request);
  request.session.account = account;
  response.redirect(303, landing(people.get(account)));
});
app.post('/desk/as/:account', guard('chief'), async (request, response) => {
  const { account } = request.params;
  const other = people.get(account);
  const isMeant = request.actor === null && account !== request.person.name && other?.active && other.roles.includes('reader');
  if (!isMeant) return response.status(403).send(page(request, 'Not allowed'));
  await anew(request);
  request.session.account = request.person.name;
  request.session.acting = { account, until: Date.now() + 15 * MINUTE };
  response.redirect(303, landing(other));
});

const forScript = (...roles) => (request, response, next) => {
  if (request.person === null) return response.status(401).json({});
  if (!roles.some((role) => request.person.roles.includes(role))) return response.status(403).json({});
  next();
};
app.get('/api/stock', forScript('clerk', 'scanner'), (request, response) => response.json({ books: 3 }));
app.post('/api/stock', forScript('scanner'), (request, response) => response.status(201).json({ books: 4 }));

app.use((request, response) => response.status(404).send('Not found'));
app.use((error, _request, response, _next) => response.status(error.statusCode ?? 500).send('Refused'));

const server = app.listen(Number(process.env.PORT ?? 0), '127.0.0.1', () => {
  process.send?.({ port: server.address().port });
});

// Pages from the server behind a proxy that ends TLS: fastify, everything about a visitor sealed in a cookie, forms told from
// those of other sites by their Origin.
import fastify from 'fastify';
import { getIronSession } from 'iron-session';
import { randomBytes } from 'node:crypto';
import { escaped, hasBug, personWith } from '../people.mjs';

const app = fastify({ trustProxy: true, forceCloseConnections: true });
app.addContentTypeParser('application/x-www-form-urlencoded', { parseAs: 'string' }, (_request, body, done) =>
  done(null, Object.fromEntries(new URLSearchParams(body))),
);

const SEAL = { cookieName: '__Host-desk', password: randomBytes(32).toString('hex'), ttl: 3600 };

app.addHook('onRequest', async (request, reply) => {
  if (request.protocol !== 'https') {
    return reply.redirect(`https://${request.hostname}${request.url}`, 308);
  }
  request.sealed = await getIronSession(request.raw, reply.raw, SEAL);
  if (hasBug('slide') && request.sealed.account !== undefined) await request.sealed.save();
  reply.header('x-seen-as', request.sealed.account ?? 'guest').header('cache-control', 'no-store');
});

/** Forms of other sites come with an Origin of theirs (RFC 6454 §7). */
app.addHook('preHandler', async (request, reply) => {
  const { origin } = request.headers;
  const isWrite = request.method !== 'GET' && request.method !== 'HEAD';
  if (isWrite && origin !== undefined && new URL(origin).host !== request.headers.host) {
    return reply.code(403).type('text/html').send(page(request, 'Refused'));
  }
});

const page = ({ sealed }, title, content = '') => {
  const { account, roles = [] } = sealed;
  const links = [
    ['/shelf', 'Shelf', account !== undefined],
    ['/desk', 'Desk', roles.includes('clerk')],
    ['/safe', 'Safe', roles.includes('chief')],
  ].filter(([, , isFor]) => isFor);
  return `<!doctype html><html lang="en"><title>${title}</title>
    <nav><ul>${links.map(([to, text]) => `<li><a href="${to}">${text}</a></li>`).join('')}</ul></nav>
    ${account === undefined ? '' : '<form method="post" action="/sign-out" data-form="logout"><button>Sign out</button></form>'}
    <main data-seen-as="${escaped(account ?? 'guest')}"><h1>${title}</h1>${content}</main></html>`;
};

const landing = (roles) => (roles.includes('chief') ? '/safe' : roles.includes('clerk') ? '/desk' : '/shelf');
const away = (request, reply, to) => reply.redirect(to, request.method === 'GET' || request.method === 'HEAD' ? 302 : 303);

/** An address to come back to, as far as it stays on this site. */
function homeward(asked, host) {
  const base = `https://${host}`;
  if (typeof asked !== 'string' || !URL.canParse(asked, base)) return null;
  const url = new URL(asked, base);
  if (hasBug('return')) return url.href;
  return url.origin === base ? url.pathname + url.search : null;
}

const guard =
  (role = null) =>
  async (request, reply) => {
    const { account, roles = [] } = request.sealed;
    if (account === undefined) {
      const isRead = request.method === 'GET' || request.method === 'HEAD';
      const back = encodeURIComponent(request.url).replaceAll('%2F', '/');
      return away(request, reply, isRead ? `/sign-in?next=${back}` : '/sign-in');
    }
    if (role !== null && !roles.includes(role)) return reply.code(403).type('text/html').send(page(request, 'Not allowed'));
  };
const guestsOnly = async (request, reply) => {
  if (request.sealed.account !== undefined) return away(request, reply, hasBug('landing') ? '/shelf' : landing(request.sealed.roles));
};

const show = (title, content) => (request, reply) =>
  reply.type('text/html').send(page(request, title, typeof content === 'function' ? content(request) : content));

app.get('/', show('Desk of the library'));
app.get(
  '/sign-in',
  { preHandler: guestsOnly },
  show(
    'Sign in',
    ({ query }) => `<form method="post" action="/sign-in" data-form="login">
      ${typeof query.next === 'string' ? `<input type="hidden" name="next" value="${escaped(query.next)}" />` : ''}
      <p><input id="account" name="account" /><input id="password" name="password" type="password" /></p>
      <p><button>Sign in</button></p></form>`,
  ),
);
app.post('/sign-in', { preHandler: guestsOnly }, async (request, reply) => {
  const { account = '', password = '', next } = request.body ?? {};
  const person = personWith(account, password);
  if (person === null) {
    const back = next === undefined ? '' : `&next=${encodeURIComponent(next).replaceAll('%2F', '/')}`;
    return reply.redirect(`/sign-in?wrong=yes${back}`, 303);
  }
  Object.assign(request.sealed, { account, roles: person.roles });
  await request.sealed.save();
  return reply.redirect(homeward(next, request.headers.host) ?? landing(person.roles), 303);
});
app.post('/sign-out', async (request, reply) => {
  if (!hasBug('logout')) request.sealed.destroy();
  return reply.redirect('/', 303);
});

app.get('/shelf', { preHandler: guard() }, show('Shelf', '<form method="post" action="/shelf"><button>Take</button></form>'));
app.post('/shelf', hasBug('submit') ? {} : { preHandler: guard() }, (request, reply) => reply.redirect('/shelf', 303));
app.get('/shelf/:id', { preHandler: guard() }, show('A book'));
app.get('/desk', { preHandler: guard('clerk') }, show('Desk'));
app.get('/safe', { preHandler: guard('chief') }, show('Safe'));

await app.listen({ port: Number(process.env.PORT ?? 0), host: '127.0.0.1' });
process.send?.({ port: app.server.address().port });

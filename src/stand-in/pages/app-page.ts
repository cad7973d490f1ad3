import { audienceWords, filledPath, type Body, type Endpoint } from '../../core/internal.js';
import { toTaggedJson } from '../tagged-json.js';
import { acting } from './acting.js';
import { formOf, hiddenToken } from './forms.js';
import { framed } from './frame.js';
import { dataBlock, html, type Html } from '../../render/html.js';
import { strip } from './strip.js';
import type { View } from './view.js';

type PageBody = Extract<Body, { kind: 'page' }>;

/** A page of the app, as its reader sees it. */
export function appPage(view: View, body: PageBody): string {
  const { site, decided, request } = view;
  const texts = new Map(site.policy.menu.map(({ to, text }) => [to, text]));
  const path = decided.route?.path ?? request.path;
  return framed({
    app: site.policy.app,
    title: path,
    menu: body.menu.map((to) => ({ to, text: texts.get(to) ?? to, current: to === path })),
    signOut: signOut(view),
    main: content(view, body, path),
    strip: strip(view),
    data: pageData(view, body),
  });
}

/** A refusal, for a person. It says no more than the status and a short title; the strip says why. */
export function problemPage(view: View, title: string): string {
  const { status } = view.decided.response;
  return framed({
    app: view.site.policy.app,
    title: `${status} ${title}`,
    menu: [],
    signOut: signOut(view),
    main: html`<h1><span class="status">${status}</span> ${title}</h1>
      <p><a href="/">To the start page</a></p>
      ${acting(view)}`,
    strip: strip(view),
    data: pageData(view, null),
  });
}

function content(view: View, body: PageBody, path: string): Html {
  const { grounds } = view.decided.route ?? {};
  const audience = grounds === undefined ? 'everyone' : audienceWords(grounds.audience);
  const line = grounds === undefined || grounds.at.length === 0 ? null : view.lineOf(grounds.at);
  const form = formOf(view, body.again);
  return html`<h1>${path}</h1>
    <p class="audience">For ${audience}${line === null ? '' : ` (line ${line} of the policy)`}</p>
    ${body.again === null ? null : html`<p role="alert" data-again="${body.again}">That was not accepted. The form is shown again.</p>`}
    ${body.guard === null ? null : html`<p id="guard">Script in this page decides whether you stay.</p>`}
    ${body.loads.length === 0 ? null : loads(body)} ${parts(view, body)} ${form}
    ${form === null ? submitForm(view, path) : null} ${acting(view)} ${hasScript(view) ? callForm() : null}`;
}

function loads({ loads }: PageBody): Html {
  return html`<section class="card">
    <h2>Data</h2>
    <ul id="loads">
      ${loads.map(({ method, path }) => html`<li data-load="${method} ${path}">${method} ${path}: <span>waits for script</span></li>`)}
    </ul>
  </section>`;
}

/** The parts that the reader sees; on a page that script guards all of them wait for it, out of sight. */
function parts(view: View, body: PageBody): Html[] {
  const { page, parameters } = view.decided.route ?? {};
  const own = page?.parts ?? [];
  return own
    .filter(({ name }) => body.guard !== null || body.parts.includes(name))
    .map((part) => {
      const hidden = body.guard === null ? null : html` hidden`;
      return html`<section class="card" data-part="${part.name}" ${hidden}>
        <h2>${part.text}</h2>
        ${part.sends === null ? null : sending(view, part.sends, parameters ?? new Map())}
      </section>`;
    });
}

/** A button that sends the request of a part: by a form where one can, else by script. */
function sending(view: View, { method, path }: Endpoint, parameters: ReadonlyMap<string, string>): Html {
  const to = filledPath(path, parameters);
  const words = `${method} ${to}`;
  const isApi = view.site.stage.app.router.find(method, to.split('?', 1)[0] ?? '')?.kind === 'api';
  if (!isApi && (method === 'GET' || method === 'POST')) {
    return html`<form method="${method}" action="${to}">
      ${method === 'POST' ? hiddenToken(view) : null}
      <p><button>${words}</button></p>
    </form>`;
  }
  if (!hasScript(view)) return html`<p>Sends <code>${words}</code>, which no form can.</p>`;
  return html`<form data-sends="${method}" action="${to}">
    <p><button>${words}</button></p>
  </form>`;
}

function submitForm(view: View, path: string): Html {
  return html`<form class="card" method="POST" action="${path}" data-form="submit">
    <h2>Submit to this page</h2>
    <p>Sends <code>POST ${path}</code>, to see who may.</p>
    ${hiddenToken(view)}
    <p><button>Submit</button></p>
  </form>`;
}

function callForm(): Html {
  const methods = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'].map((method) => html`<option>${method}</option>`);
  return html`<form class="card" id="call">
    <h2>Call by script</h2>
    <p class="row">
      <label for="method">Method</label>
      <select id="method" name="method">
        ${methods}
      </select>
      <label for="address">Address</label> <input id="address" name="address" placeholder="/api/…" />
      <button>Call</button>
    </p>
    <ol id="calls" aria-live="polite"></ol>
  </form>`;
}

/** Signing out is offered to whoever has something to sign out of, and to everybody where only script knows. */
function signOut(view: View): Html | null {
  const { site, decided } = view;
  const { logout, csrfField } = site.stage.client;
  const token = hiddenToken(view);
  // A page of a refusal carries no token, so that its forms would be refused too.
  if (csrfField !== null && token === null) return null;
  const { visitor } = decided;
  const inScript = site.stage.client.tokens !== null;
  const isKnown = visitor.account !== null || site.state.sessions[visitor.session]?.half === true;
  if (logout === null || (!isKnown && !inScript)) return null;
  return html`<form
    method="${logout.submit.method}"
    action="${logout.submit.path}"
    data-form="logout"
    data-known="${isKnown ? 'yes' : 'no'}"
  >
    ${token}<button class="quiet">Sign out</button>
  </form>`;
}

/** Script is given only where it has something to do. */
function hasScript({ site }: View): boolean {
  const { policy, stage } = site;
  return (
    stage.client.tokens !== null ||
    policy.pages.some((page) => page.kind === 'api' || page.loads.length > 0) ||
    policy.rules.some((rule) => rule.kind === 'api')
  );
}

function pageData(view: View, body: PageBody | null): Html | null {
  if (!hasScript(view)) return null;
  const { request, decided } = view;
  const data = {
    page: body === null || body.token === null ? body : { ...body, token: view.wire.seals.seal(body.token) },
    address: { path: request.path, query: request.query },
    status: decided.response.status,
  };
  // Only a guard has maps and sets in it; without one the plain way is several times as fast.
  const json = body === null || body.guard === null ? JSON.stringify(data) : toTaggedJson(data);
  return dataBlock('page-data', json);
}

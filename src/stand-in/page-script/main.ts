// The script of a stand-in's page. It is the browser half of the simulation, with a real browser to do what it says.
import { receive } from '../../core/browser/browser.js';
import { startCall } from '../../core/browser/calls.js';
import type { Client } from '../../core/browser/client.js';
import { formNames, sendForm, sendLogout } from '../../core/browser/forms.js';
import { within } from '../../core/browser/navigation.js';
import { runScript } from '../../core/browser/script.js';
import { NEW_BROWSER, type BrowserState, type Flight, type Turn } from '../../core/browser/state.js';
import { FixedClock } from '../../core/time/clock.js';
import { NO_FIELDS, type Body, type Method } from '../../core/http/messages.js';
import { fromTaggedJson } from '../tagged-json.js';
import { exchange } from './exchange.js';
import { showCall, showMenu, showParts, showRefusal, showTokens } from './showing.js';
import { leaveGuarded, leaveHops, loadTokens, saveTokens, takeHops, wasGuarded } from './storage.js';

declare global {
  /** What the stand-in puts before this script: the app as its pages know it, as JSON. */
  var standInClient: string;
}

interface PageData {
  readonly client: Client;
  readonly shown: {
    readonly page: Extract<Body, { kind: 'page' }> | null;
    readonly address: { readonly path: string; readonly query: string };
    readonly status: number;
  };
}

/** The page as the browser half sees it, with the tokens that are held now. */
function browserNow({ client, shown: { page, address, status } }: PageData): BrowserState {
  const shown = {
    address: { origin: client.origin, ...address },
    method: 'GET',
    status,
    crossSite: false,
    menu: page?.menu ?? [],
    parts: page?.parts ?? [],
    reader: page?.reader ?? null,
    kept: false,
    frozen: false,
    sent: NO_FIELDS,
    again: page?.again ?? null,
    token: page?.token ?? null,
    script: null,
    refusals: page?.refusals ?? null,
  } as const;
  return { ...NEW_BROWSER, tab: { page: shown, tokens: loadTokens(client), history: null } };
}

/** The time on the clock of the stand-in, which may have been moved since the page was made. */
async function clockNow(): Promise<FixedClock> {
  const answer = await fetch('/-/now', { headers: { accept: 'application/json' } });
  return new FixedClock(((await answer.json()) as { readonly now: number }).now);
}

/** Does what the browser half says until it is at rest, which the page then says, or leaves the page. */
async function carryOut(data: PageData, first: Turn, clock: FixedClock): Promise<void> {
  const { client } = data;
  let turn = first;
  saveTokens(client, turn.browser.tab.tokens);
  while (turn.flight !== null) {
    const { flight } = turn;
    if (flight.purpose.kind === 'navigate') {
      wentOn = true;
      await leaveFor(data, flight);
      return;
    }
    const { response, page } = await exchange(flight);
    if (flight.purpose.kind === 'login' && page !== null) {
      location.assign(page);
      return;
    }
    turn = receive(client, turn.browser, flight, response, clock);
    saveTokens(client, turn.browser.tab.tokens);
    if (flight.purpose.kind !== 'login') showCall(flight, response.status);
  }
  if (turn.refusedByScript !== null) showRefusal(turn.refusedByScript);
  if (turn.cutShort !== null) showRefusal(turn.cutShort);
  showTokens(turn.browser.tab.tokens, clock.seconds);
  document.documentElement.dataset['ready'] = 'yes';
}

async function leaveFor(data: PageData, { request, redirects }: Flight): Promise<void> {
  const target = request.path + request.query;
  if (redirects > 0) leaveHops(redirects);
  if (request.method !== 'GET') {
    post(target, request.method, request.form);
    return;
  }
  if (data.client.tokens?.kept === 'page') await replacePage(target);
  else location.assign(target);
}

function post(target: string, method: string, fields: ReadonlyMap<string, string>): void {
  const form = document.createElement('form');
  form.method = method;
  form.action = target;
  for (const [name, value] of fields) {
    const input = document.createElement('input');
    input.type = 'hidden';
    input.name = name;
    input.value = value;
    form.append(input);
  }
  document.body.append(form);
  form.submit();
}

/** Shows another page without leaving this one, so that its memory stays. */
async function replacePage(target: string): Promise<void> {
  const answer = await fetch(target, { headers: { accept: 'text/html' } });
  const next = new DOMParser().parseFromString(await answer.text(), 'text/html');
  history.pushState(null, '', answer.url);
  document.title = next.title;
  document.body.replaceWith(next.body);
  await start();
}

async function start(listens = true): Promise<void> {
  const text = document.getElementById('page-data')?.textContent;
  if (!text) return;
  const client = fromTaggedJson(globalThis.standInClient) as Client;
  const data: PageData = { client, shown: fromTaggedJson(text) as PageData['shown'] };
  if (listens) listen(data);
  leaveGuarded((data.shown.page?.guard ?? null) !== null);
  const clock = await clockNow();
  const browser = browserNow(data);
  showTokens(browser.tab.tokens, clock.seconds);
  const { page } = data.shown;
  if (page === null) {
    document.documentElement.dataset['ready'] = 'yes';
    return;
  }
  const turn = runScript(client, browser, page, takeHops(), clock);
  // On a page that the app gives to anybody only script knows whose menu it is.
  if (page.guard !== null && browser.tab.tokens !== null) {
    showMenu(client, turn.browser.tab.page?.menu ?? [], data.shown.address.path);
    showParts(turn.browser.tab.page?.parts ?? []);
  }
  await carryOut(data, turn, clock);
}

function listen(data: PageData): void {
  const { client } = data;
  const on = (
    form: string | HTMLFormElement,
    act: (fields: Map<string, string>, clock: FixedClock) => Turn,
  ) => {
    const element = typeof form === 'string' ? document.querySelector<HTMLFormElement>(form) : form;
    element?.addEventListener('submit', (event) => {
      event.preventDefault();
      const pressed = event.submitter as HTMLButtonElement | null;
      const sent = [...new FormData(element, pressed)];
      const fields = new Map(
        sent.flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : [])),
      );
      delete document.documentElement.dataset['ready'];
      void clockNow().then((clock) => carryOut(data, act(fields, clock), clock));
    });
  };
  for (const form of formNames(client)) {
    if (client.forms[form]?.byScript !== true) continue;
    on(`form[data-form="${form}"]`, (fields, clock) =>
      sendForm(client, browserNow(data), { form, fields }, clock),
    );
  }
  if (client.tokens !== null || client.logout?.byScript === true) {
    on('form[data-form="logout"]', (_fields, clock) => sendLogout(client, browserNow(data), clock));
  }
  for (const element of document.querySelectorAll<HTMLFormElement>('form[data-sends]')) {
    on(element, (_fields, clock) => {
      const to = within(client, element.getAttribute('action') ?? '/');
      return startCall(client, browserNow(data), (element.dataset['sends'] ?? 'GET') as Method, to, clock);
    });
  }
  on('#call', (fields, clock) => {
    const to = within(client, fields.get('address') ?? '/');
    return startCall(client, browserNow(data), (fields.get('method') ?? 'GET') as Method, to, clock);
  });
}

/** Whether it was script, a link or a form of the page that went on from it. */
let wentOn = false;
for (const event of ['click', 'submit']) addEventListener(event, () => (wentOn = true), { capture: true });

/** A page that comes back as it was left; where that was within what script guards, script judges again. */
addEventListener('pageshow', ({ persisted }) => {
  if (!persisted) return;
  const isInside = wentOn && wasGuarded();
  wentOn = false;
  delete document.documentElement.dataset['leaving'];
  if (isInside) void start(false);
  else document.documentElement.dataset['ready'] = 'yes';
});

void start();

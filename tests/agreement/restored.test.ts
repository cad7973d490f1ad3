import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type BrowserContext } from 'playwright-core';
import { begin, receive } from '../../src/core/browser/browser';
import { clientOf } from '../../src/core/browser/client';
import { NEW_BROWSER, type BrowserState, type Deed } from '../../src/core/browser/state';
import { EMPTY_PAGE, respond } from '../../src/core/http/messages';
import { FixedClock } from '../../src/core/time/clock';
import { project } from '../support/policies';

// Chromium itself ends its session and restores it: one tab a way in which a page can have come.
const OPTIONS = {
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--restore-last-session', '--hide-crash-restore-bubble'],
  ignoreDefaultArgs: ['about:blank', '--no-startup-window'],
};
const COOKIES = ['s=1; HttpOnly; SameSite=Lax', 't=1; SameSite=Strict'];
const TABS: readonly { readonly path: string; readonly from?: true; readonly by?: 'form' }[] = [
  { path: '/set' },
  { path: '/stored' },
  { path: '/sent', by: 'form' },
  { path: '/linked', from: true },
];

let server: Server;
let port: number;
let asked: string[] = [];
const profile = mkdtempSync(join(tmpdir(), 'restored-'));
beforeAll(() => {
  server = createServer(({ method = '', url = '/', headers }, response) => {
    response.setHeader('content-type', 'text/html');
    if (url !== '/favicon.ico' && headers.host?.startsWith('localhost') === true) {
      asked.push(`${method} ${url} ${headers.cookie ?? ''}`);
    }
    if (url === '/set') response.setHeader('set-cookie', COOKIES);
    if (url !== '/stored') response.setHeader('cache-control', 'no-store');
    response.end(
      `<a href="http://localhost:${port}/linked">on</a><form method="POST" action="/sent"><button>`,
    );
  }).listen(0);
  ({ port } = server.address() as AddressInfo);
}, 60_000);
afterAll(() => {
  server.close();
  rmSync(profile, { recursive: true, force: true });
});

/** The browser half against an app that answers as the server does. */
class Model {
  private state: BrowserState = NEW_BROWSER;
  asked: string[] = [];
  private readonly client = clientOf(project('cavrin: 1\napp: x\norigin: http://localhost\n').stage.app);

  do(deed: Deed): void {
    let turn = begin(this.client, this.state, deed, new FixedClock(0));
    while (turn.flight !== null) {
      const { method, path, cookie } = turn.flight.request;
      this.asked.push(`${method} ${path} ${cookie}`);
      const response = respond(200, {
        body: EMPTY_PAGE,
        setCookie: path === '/set' ? COOKIES : [],
        noStore: path !== '/stored',
      });
      turn = receive(this.client, turn.browser, turn.flight, response, new FixedClock(0));
    }
    this.state = turn.browser;
  }

  /** What the tabs show, in any order. */
  tabs(): (string | undefined)[] {
    const found = [];
    for (let left = this.state.behind.length; left >= 0; left--) {
      found.push(this.state.tab.page?.address.path);
      if (left > 0) this.do({ deed: 'close-tab' });
    }
    return found.sort();
  }
}

function start(): Promise<BrowserContext> {
  return chromium.launchPersistentContext(profile, OPTIONS);
}

test('a browser that restores its last session has and asks for what Chromium has and asks for', async () => {
  const model = new Model();
  let context = await start();
  for (const [at, { path, from, by }] of TABS.entries()) {
    const page = at === 0 ? (context.pages()[0] ?? (await context.newPage())) : await context.newPage();
    if (at > 0) model.do({ deed: 'new-tab' });
    const direct = from === undefined && by === undefined;
    await page.goto(`http://${from === true ? '127.0.0.1' : 'localhost'}:${port}${direct ? path : '/form'}`);
    if (from === undefined) model.do({ deed: 'open', address: direct ? path : '/form' });
    if (!direct) {
      await page.click(by === 'form' ? 'button' : 'a');
      await page.waitForURL(`**${path}`);
      if (by === 'form') model.do({ deed: 'submit', method: 'POST', address: path });
      else model.do({ deed: 'open', address: path, from: 'https://other.example' });
    }
  }
  const [first] = context.pages();
  // A tab that script of another opens has a copy of what that has stored.
  await first?.evaluate("sessionStorage.setItem('kept', 'yes')");
  const opened = context.waitForEvent('page');
  await first?.evaluate("void window.open('/opened')");
  await (await opened).waitForURL('**/opened');
  const stored = await (await opened).evaluate("sessionStorage.getItem('kept')");
  expect(stored).toBe('yes');
  expect(asked.filter((each) => !each.includes('/opened'))).toEqual(model.asked);
  await (await opened).close();
  await new Promise((go) => setTimeout(go, 3000));
  await context.close();
  asked = [];
  model.asked = [];
  context = await start();
  for (let tries = 0; tries < 100 && asked.length < 2; tries++) {
    await new Promise((go) => setTimeout(go, 100));
  }
  await new Promise((go) => setTimeout(go, 1000));
  const pages = new Map(context.pages().map((page) => [page.url().split(String(port))[1], page]));
  const stays = await pages.get('/set')?.evaluate("sessionStorage.getItem('kept')");
  const shown = [...pages.keys()].sort();
  await context.close();
  model.do({ deed: 'restore-browser' });
  expect(model.tabs()).toEqual(shown);
  expect(shown).toEqual(['/linked', '/set', '/stored', undefined]);
  expect(stays).toBe('yes');
  expect([...asked].sort()).toEqual([...model.asked].sort());
  expect(asked).toHaveLength(2);
}, 120_000);

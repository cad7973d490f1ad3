import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import fc from 'fast-check';
import type { Browser, Page } from 'playwright-core';
import { begin, receive } from '../../src/core/browser/browser';
import { clientOf } from '../../src/core/browser/client';
import { NEW_BROWSER, type BrowserState, type Deed } from '../../src/core/browser/state';
import { FixedClock } from '../../src/core/time/clock';
import { EMPTY_PAGE, respond } from '../../src/core/http/messages';
import { project } from '../support/policies';
import { leaveBy } from '../support/in-page';
import { startChromium } from '../support/person';

/** What a page of the test's server says of itself, in its query. */
interface Kind {
  readonly stored: boolean;
  readonly cookie: string;
}

const COOKIES = ['', 'a=1; HttpOnly', 'a=2', 'a=; Max-Age=0', 'b=1; Max-Age=600; HttpOnly'];

let server: Server;
let browser: Browser;
let asked: string[] = [];
beforeAll(async () => {
  server = createServer((request, response) => {
    const { pathname, search, searchParams } = new URL(request.url ?? '/', 'http://localhost');
    if (pathname === '/page') asked.push(search);
    if (searchParams.has('no-store')) response.setHeader('cache-control', 'no-store');
    for (const cookie of searchParams.getAll('cookie').filter(Boolean)) {
      response.appendHeader('set-cookie', cookie);
    }
    response.setHeader('content-type', 'text/html');
    response.end('<title>page</title>');
  }).listen(0);
  browser = await startChromium();
}, 120_000);
afterAll(async () => {
  await browser.close();
  server.close();
});

function queryOf({ stored, cookie }: Kind, number: number): string {
  return `?${number}${stored ? '' : '&no-store'}&cookie=${encodeURIComponent(cookie)}`;
}

/** The browser half against an app that answers as the server does. */
class Model {
  private state: BrowserState = NEW_BROWSER;
  readonly asked: string[] = [];
  private readonly client = clientOf(project('cavrin: 1\napp: x\norigin: http://localhost\n').stage.app);

  do(deed: Deed): string {
    const clock = new FixedClock(0);
    let turn = begin(this.client, this.state, deed, clock);
    while (turn.flight !== null) {
      const { query } = turn.flight.request;
      this.asked.push(query);
      const parameters = new URLSearchParams(query);
      const response = respond(200, {
        noStore: parameters.has('no-store'),
        setCookie: parameters.getAll('cookie').filter(Boolean),
        body: EMPTY_PAGE,
      });
      turn = receive(this.client, turn.browser, turn.flight, response, clock);
    }
    this.state = turn.browser;
    return this.state.tab.page?.address.query ?? '';
  }
}

async function settledAt(page: Page, query: string): Promise<void> {
  // A page that is brought back does not load, so its script is asked.
  const there = `location.search === ${JSON.stringify(query)} && document.readyState === 'complete'`;
  for (let tries = 0; tries < 400; tries++) {
    if (await page.evaluate<boolean>(there).catch(() => false)) return;
    await new Promise((go) => setTimeout(go, 5));
  }
  throw new Error(`${page.url()} is shown in the place of ${query}`);
}

test('the back button brings pages back, or asks for them again, as Chromium does', async () => {
  const { port } = server.address() as AddressInfo;
  const address = `http://localhost:${port}/page`;
  const kind = fc.record({ stored: fc.boolean(), cookie: fc.constantFrom(...COOKIES) });
  const steps = fc.array(fc.oneof({ weight: 3, arbitrary: kind }, fc.constantFrom(1, 1, 2)), {
    minLength: 3,
    maxLength: 9,
  });
  let brought = 0;
  let askedAgain = 0;
  const run = async (all: readonly (Kind | number)[]) => {
    const context = await browser.newContext();
    const page = await context.newPage();
    const model = new Model();
    asked = [];
    let depth = 0;
    try {
      for (const [number, step] of all.entries()) {
        const before = model.asked.length;
        if (typeof step === 'number') {
          if (depth <= step) continue;
          depth -= step;
          const at = model.do({ deed: 'back', pages: step });
          await leaveBy(page, `history.go(-${step})`);
          await settledAt(page, at);
          if (model.asked.length === before) brought += 1;
          else askedAgain += 1;
        } else {
          depth += 1;
          const query = queryOf(step, number);
          const at = model.do({ deed: 'open', address: `/page${query}` });
          await page.goto(address + query);
          await settledAt(page, at);
        }
        // A page that is brought back asks for nothing; so none may be on its way.
        await page.waitForTimeout(20);
        expect(asked).toEqual(model.asked);
      }
    } finally {
      await context.close();
    }
  };
  await fc.assert(fc.asyncProperty(steps, run), { numRuns: 25 });
  expect(Math.min(brought, askedAgain)).toBeGreaterThan(3);
}, 180_000);

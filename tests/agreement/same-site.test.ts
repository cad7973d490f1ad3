import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { chromium, type Browser } from 'playwright-core';
import { cookieHeader, storeCookies, type CookieJar } from '../../src/core/browser/cookie-jar';
import { FixedClock } from '../../src/core/time/clock';

// Chromium can be told to spare cookies that say nothing of other sites for ten seconds in the place of two minutes.
const SPARED = { chromium: 10, model: 120 };
const OPTIONS = {
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--enable-features=ShortLaxAllowUnsafeThreshold'],
};

let server: Server;
let browser: Browser;
const posted: string[] = [];
beforeAll(async () => {
  server = createServer((request, response) => {
    const { pathname, searchParams } = new URL(request.url ?? '/', 'http://localhost');
    response.setHeader('content-type', 'text/html');
    if (pathname === '/set') response.setHeader('set-cookie', searchParams.getAll('cookie'));
    if (pathname === '/post') posted.push(request.headers.cookie ?? '');
    response.end(
      `<form method="POST" action="http://localhost:${(server.address() as AddressInfo).port}/post"><button>Send</button></form>`,
    );
  }).listen(0);
  browser = await chromium.launch(OPTIONS);
}, 120_000);
afterAll(async () => {
  await browser.close();
  server.close();
});

test('a cookie that says nothing of other sites goes along with their forms as Chromium sends it', async () => {
  const { port } = server.address() as AddressInfo;
  const page = await browser.newPage();
  const home = { origin: 'http://localhost', path: '/', query: '' };
  let jar: CookieJar = [];
  const started = Date.now();
  /** The time that has gone by, in seconds of the model. */
  const now = () =>
    new FixedClock(Math.round(((Date.now() - started) / 1000 / SPARED.chromium) * SPARED.model));
  const set = async (...cookies: readonly string[]) => {
    const query = cookies.map((cookie) => `cookie=${encodeURIComponent(cookie)}`).join('&');
    await page.goto(`http://localhost:${port}/set?${query}`);
    ({ jar } = storeCookies(jar, cookies, home, now()));
  };
  /** Sends a form of another site; what Chromium sends along is what the model does. */
  const send = async (): Promise<string> => {
    await page.goto(`http://127.0.0.1:${port}/`);
    await page.click('button');
    await page.waitForURL('**/post');
    const expected = cookieHeader(jar, home, now(), { method: 'POST', crossSite: true });
    const sorted = (header: string) => header.split('; ').sort().join('; ');
    expect(sorted(posted.at(-1) ?? '')).toBe(sorted(expected));
    return sorted(expected);
  };
  const until = (seconds: number) =>
    new Promise((go) => setTimeout(go, Math.max(0, started + seconds * 1000 - Date.now())));
  await set('once=1', 'same=1', 'other=1', 'lax=1; SameSite=Lax');
  expect(await send()).toBe('once=1; other=1; same=1');
  await until(5);
  await set('same=1', 'other=2');
  expect(await send()).toBe('once=1; other=2; same=1');
  await until(12.5);
  expect(await send()).toBe('other=2');
  await until(17.5);
  expect(await send()).toBe('');
}, 120_000);

// Records a guest and the people of a real app in Chromium: node record.mjs <app> <address> <folder>. Two programs write each recording:
// Playwright as ada.har, and chrome-har, from the messages of DevTools, as ada.other.har.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { harFromMessages } from 'chrome-har';
import { chromium } from 'playwright-core';
import { findChromium } from './chromium.mjs';

const [name, at, folder] = process.argv.slice(2);
const PASSWORDS = { ada: 'a-1', ben: 'b-2', cal: 'c-3' };
/** What people open after the login; the first is also what they ask for before it, and the page whose form they send. */
const [FIRST, ...OTHERS] = {
  'server-rendered': ['/loans', '/', '/catalogue', '/loans/12', '/desk', '/safe', '/nowhere'],
  sealed: ['/shelf', '/', '/shelf/7', '/desk', '/safe', '/nowhere'],
  'single-page': ['/shelf', '/', '/desk', '/safe'],
}[name];
const EVENTS = [
  ...['Page.loadEventFired', 'Page.domContentEventFired', 'Page.frameStartedLoading', 'Page.frameAttached'],
  ...['Network.requestWillBeSent', 'Network.requestWillBeSentExtraInfo', 'Network.responseReceived'],
  ...[
    'Network.responseReceivedExtraInfo',
    'Network.dataReceived',
    'Network.loadingFinished',
    'Network.loadingFailed',
  ],
];

const isDrawnByScript = name === 'single-page';
const browser = await chromium.launch({
  executablePath: findChromium(),
  args: ['--no-sandbox', '--disable-dev-shm-usage'],
});

async function record(person) {
  const label = person ?? 'guest';
  const context = await browser.newContext({
    recordHar: { path: join(folder, `${label}.har`) },
    ...(name === 'sealed' ? { extraHTTPHeaders: { 'x-forwarded-proto': 'https' } } : {}),
  });
  const page = await context.newPage();
  const session = await context.newCDPSession(page);
  const messages = [];
  await session.send('Network.enable');
  await session.send('Page.enable');
  for (const method of EVENTS) session.on(method, (params) => messages.push({ method, params }));
  const rest = () =>
    isDrawnByScript ? page.waitForSelector('html[data-ready=yes]') : page.waitForLoadState();
  const visit = async (target) => {
    await page.goto(at + target);
    await rest();
  };
  const press = async (form) => {
    const left = isDrawnByScript ? page.waitForTimeout(300) : page.waitForNavigation();
    await Promise.all([left, page.locator(`${form} button`).first().click()]);
    await rest();
  };
  const signIn = async (password) => {
    await page.fill('#account', person);
    await page.fill('#password', password);
    await press('form:has(#password)');
  };
  if (person === null) {
    for (const target of [FIRST, ...OTHERS]) await visit(target);
  } else {
    await visit(person === 'ada' ? FIRST : '/sign-in');
    if (person === 'ben') await signIn('not-this-one');
    await signIn(PASSWORDS[person]);
    for (const target of OTHERS) await visit(target);
    await visit('/sign-in');
    await visit(FIRST);
    if (!isDrawnByScript) await press(`form[action="${FIRST}"]`);
    await press('[data-form="logout"]');
    await visit(FIRST);
  }
  await context.close();
  writeFileSync(join(folder, `${label}.other.har`), JSON.stringify(harFromMessages(messages)));
}

for (const person of [null, ...Object.keys(PASSWORDS)]) await record(person);
await browser.close();

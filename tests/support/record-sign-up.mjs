// Records in Chromium somebody who signs up at the app of forms, and somebody who logs in there: node record-sign-up.mjs <address> <folder>.
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { findChromium } from './chromium.mjs';

const [at, folder] = process.argv.slice(2);
const browser = await chromium.launch({
  executablePath: findChromium(),
  args: ['--no-sandbox', '--disable-dev-shm-usage'],
});

async function record(person, act) {
  const context = await browser.newContext({ recordHar: { path: join(folder, `${person}.har`) } });
  const page = await context.newPage();
  const sendIn = async (target, fields) => {
    await page.goto(at + target);
    for (const [name, value] of Object.entries(fields)) await page.fill(`input[name=${name}]`, value);
    await Promise.all([page.waitForNavigation(), page.click('form button')]);
  };
  await act(page, sendIn);
  await context.close();
}

const PASSWORD = 'd-4-of-her-own';
await record('dee', async (page, sendIn) => {
  await sendIn('/accounts/signup/', { username: 'dee', password1: PASSWORD, password2: PASSWORD });
  for (const target of ['/staff/', '/profile/', '/accounts/signup/']) await page.goto(at + target);
});
await record('ben', async (page, sendIn) => {
  await sendIn('/accounts/login/', { username: 'ben', password: 'b-2' });
  for (const target of ['/staff/', '/profile/', '/accounts/signup/', '/accounts/logout/', '/profile/']) {
    await page.goto(at + target);
  }
});
await browser.close();

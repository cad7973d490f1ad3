import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';
import { HARBOUR } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

let browser: Browser;
let child: ChildProcess;
let at: string;
let secret: string;
let place: Workplace;

beforeAll(async () => {
  place = new Workplace();
  browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-dev-shm-usage'],
  });
  child = spawn(
    process.execPath,
    [PROGRAM, 'serve', join(HARBOUR, 'cavrin.yaml'), '--clock', 'virtual', '--quiet'],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  const told = { out: '', err: '' };
  child.stdout?.on('data', (part: Buffer) => (told.out += part.toString()));
  child.stderr?.on('data', (part: Buffer) => (told.err += part.toString()));
  while (!told.out.includes('\n') || !told.err.includes('secret ')) {
    await new Promise((go) => setTimeout(go, 20));
  }
  at = told.out.trim();
  secret = /secret (\S+)/.exec(told.err)?.[1] ?? '';
});
afterAll(async () => {
  child.kill();
  await browser.close();
  place.remove();
});

const steer = (deed: string, fields: Record<string, string>) =>
  fetch(`${at}/-/${deed}`, {
    method: 'POST',
    body: new URLSearchParams(fields),
    headers: { authorization: `Bearer ${secret}` },
  });

/** What `cavrin walk` makes of a recorded walk. */
function replayed(text: string) {
  place.put('recorded.yaml', text);
  return place.run(['walk', join(HARBOUR, 'cavrin.yaml'), 'recorded.yaml', '--steps']);
}

const press = async (page: Page, name: string) => {
  await page.getByRole('button', { name, exact: true }).first().click();
  await page.waitForLoadState('networkidle');
};

test('what two people click becomes a walk, which comes to the same end', async () => {
  const [keeper, one, other] = [
    await browser.newPage(),
    await (await browser.newContext()).newPage(),
    await (await browser.newContext()).newPage(),
  ];
  await keeper.goto(`${at}/-/`);
  await press(keeper, 'Record a walk');
  await one.goto(`${at}/ledger`);
  await one.fill('#account', 'petra');
  await one.fill('#password', 'tide-40');
  await press(one, 'Log in');
  await one.waitForURL(`${at}/ledger`);
  await other.goto(`${at}/berths`);
  await other.fill('#account', 'ines');
  await other.fill('#password', 'not-hers');
  await press(other, 'Log in');
  await other.goto(`${at}/tides`);
  await keeper.goto(`${at}/-/`);
  await keeper.fill('#wait', '31m');
  await press(keeper, 'Move on');
  await one.goto(`${at}/ledger`);
  await one.waitForLoadState('networkidle');
  await press(one, 'Sign out');
  await one.waitForURL(`${at}/`);
  await steer('suspend', { account: 'petra' });
  await one.goto(`${at}/sign-in`);
  await keeper.goto(`${at}/-/`);
  await keeper.fill('#walk-name', 'The bursar <b> leaves');
  await press(keeper, 'End and show it');
  const shown = await keeper.inputValue('#walk-text');
  const text = await (await fetch(`${at}/-/walk`)).text();
  expect(shown.trim()).toBe(text.trim());
  const written = text.split('\n').map((line) => line.trim());
  expect(written.filter((line) => line.startsWith('# Not'))).toEqual([]);
  expect(written).toContain('- name: The bursar <b> leaves');
  expect(
    written.filter((line) => line.startsWith('- {')).map((line) => /^- \{ ([\w-]+)/.exec(line)?.[1]),
  ).toEqual([
    ...['visit', 'login', 'visit', 'login', 'visit', 'wait', 'visit', 'logout', 'suspend', 'visit'],
  ]);
  expect(text).toMatch(/visit: \/tides, in: second/);
  const { status, out } = replayed(text);
  expect(out).toContain('1 walk, 10 steps: all as expected');
  expect(status).toBe(0);
}, 60_000);

test('programs record too; what is wrong with their wish is told, and guests are no browsers of their own without a cookie', async () => {
  const withoutSecret = await fetch(`${at}/-/walk`, {
    method: 'POST',
    body: new URLSearchParams({ record: 'on' }),
  });
  expect(withoutSecret.status).toBe(403);
  await steer('walk', { record: 'on' });
  const cookies = async (target: string, cookie: string, accept = 'text/html') =>
    (await fetch(at + target, { headers: { accept, cookie } })).headers
      .getSetCookie()
      .filter((each) => each.startsWith('stand-in-browser'));
  expect(await cookies('/tides', '')).toEqual(['stand-in-browser=browser; Path=/; HttpOnly; SameSite=Lax']);
  expect(await cookies('/tides', 'stand-in-browser=browser')).toEqual([]);
  expect(await cookies('/tides', 'stand-in-browser=made-up')).toEqual([
    'stand-in-browser=second; Path=/; HttpOnly; SameSite=Lax',
  ]);
  expect((await steer('walk', {})).status).toBe(400);
  const ended = await steer('walk', { name: 'Two look at the tides' });
  expect(ended.headers.get('content-type')).toContain('text/yaml');
  expect(replayed(await ended.text()).out).toContain('1 walk, 3 steps: all as expected');
  expect((await steer('walk', { name: 'Again' })).status).toBe(400);
  // Nothing is recorded by itself, and browsers are told apart only then.
  expect(await cookies('/tides', '')).toEqual([]);
});

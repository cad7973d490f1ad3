import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { EXAMPLES } from '../support/policies';
import { startChromium } from '../support/person';
import { Workplace } from '../support/program';

/** What axe-core tells of a page. */
interface AxeResult {
  readonly violations: readonly {
    readonly id: string;
    readonly nodes: readonly { readonly html: string }[];
  }[];
  readonly passes: readonly unknown[];
}

const AXE = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

let browser: Browser;
let place: Workplace;
beforeAll(async () => {
  browser = await startChromium();
  place = new Workplace();
  place.run(['report', join(EXAMPLES, 'harbour/cavrin.yaml'), '--output', 'sound.html']);
  place.run(['report', join(EXAMPLES, 'faults/10-logout-clears-only.yaml'), '--output', 'broken.html']);
}, 180_000);
afterAll(async () => {
  await browser.close();
  place.remove();
});

/** Opens a report; whatever the browser complains of fails the test. */
async function opened(name: string, options: Parameters<Browser['newContext']>[0] = {}): Promise<Page> {
  const context = await browser.newContext(options);
  const page = await context.newPage();
  page.on('console', (message) => {
    throw new Error(message.text());
  });
  page.on('request', (request) => {
    if (!request.url().startsWith('file:')) throw new Error(`asked for ${request.url()}`);
  });
  await page.goto(`file://${join(place.folder, name)}`);
  return page;
}

describe.each(['sound.html', 'broken.html'])('%s in Chromium', (name) => {
  test.each(['light', 'dark'] as const)('axe-core finds nothing, in the %s', async (colorScheme) => {
    const page = await opened(name, { colorScheme, bypassCSP: true });
    await page.evaluate(`document.querySelectorAll('details').forEach((each) => { each.open = true; })`);
    await page.evaluate(AXE);
    const result: AxeResult = await page.evaluate('axe.run()');
    expect(result.violations.map(({ id, nodes }) => [id, nodes[0]?.html])).toEqual([]);
    expect(result.passes.length).toBeGreaterThan(15);
    await page.context().close();
  });

  test('is legible on a phone: nothing but what scrolls by itself is wider', async () => {
    const page = await opened(name, { viewport: { width: 390, height: 844 }, isMobile: true });
    expect(await page.evaluate('document.documentElement.scrollWidth')).toBe(390);
    await page.context().close();
  });
});

test('a cell opens its why by the keyboard, without script', async () => {
  const page = await opened('sound.html', { javaScriptEnabled: false });
  const cell = page.locator('table.access tbody tr', { hasText: '/ledger' }).first().locator('button').nth(1);
  await cell.focus();
  await page.keyboard.press('Enter');
  expect(await page.locator('.why:popover-open').innerText()).toContain('GET /');
  await page.keyboard.press('Escape');
  expect(await page.locator('.why:popover-open').count()).toBe(0);
  await page.context().close();
});

test('pages can be filtered, by script that its own policy lets in', async () => {
  const page = await opened('sound.html');
  await page.locator('#filter').fill('ledger');
  const shown = page.locator('table.access tbody tr:visible th');
  expect(await shown.allInnerTexts()).toEqual(['/ledger', '/ledger/:year', '/api/ledger']);
  await page.context().close();
});

test("the harbour's report keeps within two megabytes", () => {
  expect(place.read('sound.html').length).toBeLessThan(2_000_000);
});

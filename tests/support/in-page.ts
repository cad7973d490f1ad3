import type { Page } from 'playwright-core';

/** Runs script that leaves the page, which may be gone before Chromium has told that the script has run. */
export async function leaveBy(page: Page, script: string): Promise<void> {
  await page.evaluate(script).catch((error: unknown) => {
    if (!String(error).includes('Execution context was destroyed')) throw error;
  });
}

export function isOn(page: Page, what: string): Promise<boolean> {
  return page.evaluate(`document.querySelector(${JSON.stringify(what)}) !== null`);
}

export function sentCode(page: Page): Promise<string> {
  return page.evaluate("document.querySelector('#sent-code')?.textContent ?? 'none'");
}

/** A circle of redirects ends in a page of the browser's own. */
export function ignoreLoops(error: unknown): null {
  if (String(error).includes('ERR_TOO_MANY_REDIRECTS')) return null;
  throw error;
}

/** Waits until a page is there and its script at rest. */
export async function settled(page: Page): Promise<void> {
  for (let tries = 0; tries < 1000; tries++) {
    // Where the page is left while it is asked, it is not at rest; one that is brought back does not load.
    const atRest = await page
      .evaluate<boolean>(
        `document.readyState !== 'complete' ? false : document.getElementById('page-data') === null
          ? document.documentElement.dataset.leaving === undefined
          : document.documentElement.dataset.ready === 'yes'`,
      )
      .catch(() => false);
    if (atRest) return;
    await new Promise((go) => setTimeout(go, 5));
  }
  throw new Error(`${page.url()} does not come to rest`);
}

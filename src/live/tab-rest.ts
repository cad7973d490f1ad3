import type { Page, Request } from 'playwright-core';
import { inTime } from './in-time.js';

/** How often it is looked whether a page is at rest, in milliseconds, and how often in a row it must be. */
const LOOK = 10;
const IN_A_ROW = 3;
const LONGEST_UNREST = 10_000;
/** How long what was pressed may take to begin anything, in milliseconds. */
const LONGEST_START = 100;
/** How long the rest of an answer to script may take, in milliseconds. */
const LONGEST_BODY = 50;
/** Requests that go on for as long as a page is open. */
const LASTING: ReadonlySet<string> = new Set(['websocket', 'eventsource', 'ping', 'media']);

/** Tells when a tab is at rest: its page is there, and what was asked for is answered. */
export class TabRest {
  private readonly open = new Set<Request>();
  /** How many requests were made so far. */
  asked = 0;

  /** @param longest after how many milliseconds a page that does not come to rest is taken as it is */
  constructor(
    private readonly page: Page,
    private readonly longest = LONGEST_UNREST,
  ) {
    page.on('request', (request) => {
      this.asked += 1;
      if (!LASTING.has(request.resourceType())) this.open.add(request);
    });
    page.on('requestfinished', (request) => this.open.delete(request));
    page.on('requestfailed', (request) => this.open.delete(request));
    page.on('response', (response) => {
      const request = response.request();
      // A call whose answer script does not read to its end is never told to be finished.
      if (isCall(request)) setTimeout(() => this.open.delete(request), LONGEST_BODY);
    });
  }

  /**
   * Waits until the tab is at rest.
   *
   * @param asked how many requests there were before something was pressed, which takes its time to begin anything; null for nothing
   */
  async settle(asked: number | null = null): Promise<void> {
    const { page } = this;
    let quiet = 0;
    let before = page.url();
    const start = Date.now();
    // Looking at a huge page takes long, too.
    const waited = () => Date.now() - start;
    while (waited() < this.longest && quiet < IN_A_ROW) {
      const hasBegun = asked === null || this.asked !== asked || page.url() !== before;
      if (!hasBegun && waited() < LONGEST_START) {
        await pause(LOOK);
        continue;
      }
      const ready = page.evaluate<boolean>("document.readyState === 'complete'").catch(() => false);
      // A script that goes on without end answers nothing.
      const isThere = await inTime(ready, this.longest, () => null);
      if (isThere === null || page.isClosed()) return;
      const url = page.url();
      const isQuiet = isThere && url === before && this.open.size === 0;
      before = url;
      quiet = isQuiet ? quiet + 1 : 0;
      if (quiet < IN_A_ROW) await pause(LOOK);
    }
  }

  /** Waits until the tab is elsewhere, for as long as going back may take to begin. */
  async left(from: string): Promise<void> {
    for (let waited = 0; waited < 5 * LONGEST_START && this.page.url() === from; waited += LOOK) {
      await pause(LOOK);
    }
  }
}

/** Whether script asked, and not the browser for a page or what it is drawn with. */
export function isCall(request: Request): boolean {
  return request.resourceType() === 'fetch' || request.resourceType() === 'xhr';
}

function pause(milliseconds: number): Promise<void> {
  return new Promise((go) => setTimeout(go, milliseconds));
}

import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { BrowserContext, ElementHandle, Page } from 'playwright-core';
import type { AppAddress } from '../app-address.js';
import type { Chromium } from '../chromium.js';
import { driverWords } from '../driver-errors.js';
import { inTime } from '../in-time.js';
import { FIND_LOGOUT } from '../in-page.js';
import { fillInLogin } from '../learn/by-browser.js';
import { logoutOn } from '../learn/looked-at.js';
import type { Looker } from '../learn/learnt.js';
import { RunEnded } from '../run-ended.js';
import { TabRest } from '../tab-rest.js';
import { LONGEST_HTML, NotShown, tooLong, type Rounder, type Shown } from './round.js';

/** Where script had gone once a page was at rest. */
interface Landed {
  /** The document that had been asked for; null: what was pressed sent it there. */
  readonly asked: string | null;
  /** Milliseconds since 1970 at which it was asked for or pressed. */
  readonly at: number;
  readonly shown: string;
}

/** Somebody who looks round in Chromium, which records what it asks. */
export class BrowserRounder implements Rounder {
  private readonly landed: Landed[] = [];
  private rest: TabRest;
  /** The last page that had something to log out by; null for none. */
  private withLogout: string | null = null;

  private constructor(
    private readonly address: AppAddress,
    private readonly file: string,
    private readonly context: BrowserContext,
    private page: Page,
    private readonly patience: number,
  ) {
    this.rest = new TabRest(page);
  }

  /** @param folder where the recording lies until it is read; whoever made it takes it away */
  static async start(
    address: AppAddress,
    chromium: Chromium,
    folder: string,
    patience: number,
  ): Promise<BrowserRounder> {
    const file = join(folder, `${randomUUID()}.har`);
    const context = await chromium.context(null, file);
    return new BrowserRounder(address, file, context, await context.newPage(), patience);
  }

  async open(target: string): Promise<Shown> {
    const at = Date.now();
    const asked = this.address.origin + this.address.pathOf(target);
    const there = await this.page.goto(asked, { timeout: this.patience }).catch((error: unknown) => {
      if (error instanceof Error && error.name === 'TimeoutError') return 'late' as const;
      // Leaving for another site, a file, or a connection that was closed.
      return driverWords(error) ?? String(error);
    });
    if (this.context.browser()?.isConnected() === false) {
      throw new RunEnded('the browser ended by itself', null);
    }
    if (there === 'late') return this.givenUp(`it was not there within ${this.patience / 1000}s`);
    if (typeof there === 'string') {
      // The browser's own page comes in its place.
      await this.rest.settle();
      throw new NotShown(there);
    }
    return this.inTime(async () => {
      await this.rest.settle();
      if (there !== null) this.landed.push({ asked: there.url(), at, shown: this.page.url() });
      return this.shown();
    });
  }

  /** What is asked of the page in front, as far as it answers. */
  private async inTime<Found>(deed: () => Promise<Found>): Promise<Found> {
    const looking = deed().then((is) => ({ is }));
    const found = await inTime(looking, 2 * this.patience, () => null);
    return found === null ? this.givenUp('its script goes on without end') : found.is;
  }

  /** Leaves a page that does not come to rest for a new tab. */
  private async givenUp(reason: string): Promise<never> {
    // One whose script goes on without end does not even close.
    void this.page.close().catch(() => undefined);
    this.page = await this.context.newPage();
    this.rest = new TabRest(this.page);
    throw new NotShown(reason);
  }

  async signIn(target: string, looker: Looker): Promise<Shown | null> {
    await this.open(target);
    const at = Date.now();
    return this.inTime(async () => {
      const filledIn = await fillInLogin(this.page, this.rest, looker);
      this.landed.push({ asked: null, at, shown: this.page.url() });
      return filledIn === null ? null : this.shown();
    });
  }

  signOut(): Promise<boolean> {
    return this.inTime(() => this.signedOut());
  }

  private async signedOut(): Promise<boolean> {
    let pressed = await this.toLogOut(await this.page.content());
    if (pressed === null && this.withLogout !== null) {
      await this.open(this.withLogout);
      pressed = await this.toLogOut(await this.page.content());
    }
    if (pressed === null) return false;
    const at = Date.now();
    const { asked } = this.rest;
    await pressed.evaluate((each) => {
      (each as { click(): void }).click();
    });
    await this.rest.settle(asked);
    this.landed.push({ asked: null, at, shown: this.page.url() });
    return true;
  }

  /** What logs out on the page in front: a form, a link, or a button that script listens to; null for nothing. */
  private async toLogOut(html: string): Promise<ElementHandle | null> {
    const found = logoutOn(html);
    if (found === null) {
      const wanted = JSON.stringify({ selector: null, action: '' });
      return (await this.page.evaluateHandle(`(${FIND_LOGOUT})(${wanted})`)).asElement();
    }
    const inside =
      found.by === 'form' ? `${found.selector} button, ${found.selector} [type=submit]` : found.selector;
    return this.page
      .locator(inside)
      .first()
      .elementHandle({ timeout: 1000 })
      .catch(() => null);
  }

  async end(): Promise<string> {
    // The recording is written once the browser is closed, which a page without end may not let it.
    const isClosed = await inTime(
      this.context.close().then(() => true),
      4 * this.patience,
      () => false,
    );
    if (!isClosed) throw new RunEnded('the browser does not close', 'leave out the page that has no end');
    return withLanded(readFileSync(this.file, 'utf8'), this.landed);
  }

  private async shown(): Promise<Shown> {
    const hrefs = await this.page.evaluate<string[]>(
      "[...document.querySelectorAll('a[href]')].map((link) => link.href)",
    );
    const links = hrefs.flatMap((href) => this.targetOf(href) ?? []);
    const target = this.targetOf(this.page.url()) ?? '/';
    const html = await this.page.content();
    if (html.length > LONGEST_HTML) throw new NotShown(tooLong(html.length));
    if ((await this.toLogOut(html)) !== null) this.withLogout = target;
    return { target, html, links };
  }

  private targetOf(href: string): string | null {
    if (!URL.canParse(href)) return null;
    const { origin, pathname, search } = new URL(href);
    const path = origin === this.address.origin ? this.address.withoutBase(pathname) : null;
    return path === null ? null : path + search;
  }
}

interface HarEntry {
  readonly startedDateTime: string;
  readonly request: { readonly method: string; readonly url: string };
  readonly _resourceType?: string;
  _landed?: string;
}

/** The recording with where script had gone, which no browser writes down, at each document that was opened and each form that was sent. */
function withLanded(text: string, landed: readonly Landed[]): string {
  const har = JSON.parse(text) as { log: { entries: HarEntry[] } };
  for (const { asked, at, shown } of landed) {
    const entry = har.log.entries.find(
      (each) =>
        each._landed === undefined &&
        Date.parse(each.startedDateTime) >= at - CLOCK_BLUR &&
        (asked === null ? each.request.method !== 'GET' : isDocumentAt(each, asked)),
    );
    if (entry !== undefined) entry._landed = shown;
  }
  return JSON.stringify(har);
}

/** By how many milliseconds the clock of the browser may differ from this one. */
const CLOCK_BLUR = 20;

function isDocumentAt({ _resourceType, request }: HarEntry, url: string): boolean {
  return _resourceType === 'document' && request.url === url;
}

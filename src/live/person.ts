import type { BrowserContext, ElementHandle, Page, Response } from 'playwright-core';
import {
  targetIn,
  type LiveConfig,
  type Message,
  type Method,
  type Policy,
  type Secrets,
  type Stage,
} from '../core/internal.js';
import type { AppAddress } from './app-address.js';
import { newProfile, removeProfile, type Chromium } from './chromium.js';
import { CookieEnds } from './cookie-ends.js';
import { Hindered } from './hindered.js';
import { answered, ignoreLeaving } from './leaving.js';
import type { OtherSite } from './other-site.js';
import { isCall, TabRest } from './tab-rest.js';
import { Unanswered } from './unanswered.js';

/** What everybody at a real browser has in common in a run. */
export interface BrowserSite {
  readonly stage: Stage;
  readonly config: LiveConfig;
  /** Where browsers ask for the app: its own address, or that of the proxy before it. */
  readonly address: AppAddress;
  readonly chromium: Chromium;
  readonly otherSite: OtherSite;
  readonly secrets: Secrets;
  /** After how many milliseconds an answer is given up. */
  readonly patience: number;
  /** Milliseconds since 1970 at which the virtual clock stands at zero. */
  readonly start: number;
}

/** A message, and whether it was for a page rather than for script. */
export type Asked = Message & { readonly isPage: boolean };

/** A person at a real browser, with their tabs. */
export class Person {
  private context: BrowserContext | null = null;
  private pages: Page[] = [];
  private readonly rests = new WeakMap<Page, TabRest>();
  /** Where each tab went last, which a page of the browser's own does not tell. */
  private readonly went = new WeakMap<Page, string>();
  private readonly unanswered = new WeakMap<Page, Unanswered>();
  private readonly ends: CookieEnds;
  private readonly profile: string | null;
  private time = 0;
  /** What was asked of the app, as far as whoever looks has not cleared it. */
  readonly messages: Asked[] = [];
  private readonly reading: Promise<void>[] = [];
  /** The headers of the page that came last; empty before the first. */
  headers: Readonly<Record<string, string>> = {};

  /** @param closes whether they will close their browser, so that it needs a profile on disk */
  constructor(
    private readonly site: BrowserSite,
    closes: boolean,
  ) {
    this.ends = new CookieEnds(site.start);
    this.profile = closes ? newProfile() : null;
  }

  /** The address of the page in front, as the policy writes it; null where none was opened. */
  lands(): string | null {
    const page = this.pages.at(-1);
    const url = page?.url() ?? 'about:blank';
    if (page === undefined || url === 'about:blank') return null;
    const shown = url.startsWith('chrome-error:') ? (this.went.get(page) ?? url) : url;
    return targetIn(this.site.address.inPolicy(shown.split('#', 1)[0] ?? shown, '/'), this.policy.origin);
  }

  /** The page in front. */
  async front(): Promise<Page> {
    const context = await this.opened();
    const page = this.pages.at(-1) ?? (await this.watched(context.newPage()));
    if (this.pages.length === 0) this.pages.push(page);
    return page;
  }

  /** Whether the browser runs. */
  get isOpen(): boolean {
    return this.context !== null;
  }

  /** Whether anything is open in the browser. */
  get hasPage(): boolean {
    return this.pages.length > 0;
  }

  /** Lets time go by: cookies that are over are dropped, and after minutes no page is left as it was. */
  async pass(time: number, longestKept: number): Promise<void> {
    const isLong = time - this.time >= longestKept;
    this.time = time;
    if (this.context === null) return;
    const { origin } = this.site.address;
    if (isLong) await this.context.addCookies([{ name: 'time', value: String(time), url: origin }]);
    await this.tellTime(this.context);
  }

  /** Drops what is over, and tells script what time it is. */
  private async tellTime(context: BrowserContext): Promise<void> {
    await this.ends.drop(context, this.time);
    if (this.policy.tokens !== null) await context.clock.setFixedTime(this.site.start + this.time * 1000);
  }

  async cookies(): Promise<ReadonlySet<string>> {
    const all = await this.context?.cookies(this.site.address.origin + this.site.address.pathOf('/'));
    return new Set((all ?? []).map(({ name }) => name));
  }

  /** Gives somebody else copies of cookies, or takes them for their own. */
  async give(to: Person, names: readonly string[], isCopy: boolean): Promise<void> {
    const all = (await this.context?.cookies()) ?? [];
    const given = all.filter(({ name }) => names.includes(name));
    const context = await to.opened();
    await context.addCookies(given.map((cookie) => ({ ...cookie, ...(isCopy ? { expires: -1 } : {}) })));
    for (const { name } of given) to.ends.take(name, this.ends, isCopy);
  }

  async goTo(address: string): Promise<void> {
    const page = await this.front();
    const url = this.site.address.origin + this.site.address.pathOf(address);
    await this.loaded(page.goto(url, this.atOnce), address);
    await this.settle(page);
  }

  /** Follows a link on another site, or sends a form that stands there. */
  async fromOtherSite(address: string, form: ReadonlyMap<string, string> | null): Promise<void> {
    const page = await this.front();
    const url = new URL(this.site.otherSite.address);
    url.searchParams.set('to', this.site.address.origin + this.site.address.pathOf(address));
    if (form !== null) url.searchParams.set('form', '');
    for (const [name, value] of form ?? []) {
      url.searchParams.append('field', `${encodeURIComponent(name)}=${encodeURIComponent(value)}`);
    }
    await page.goto(url.href);
    await this.press(await page.$('#go'));
  }

  async reload(): Promise<void> {
    const page = await this.front();
    await this.loaded(page.reload(this.atOnce), this.lands() ?? '');
    await this.settle(page);
  }

  /** Pages may come back as they were left, which neither loads them nor tells of it. */
  async back(pages: number): Promise<void> {
    const page = await this.front();
    const from = page.url();
    await page.evaluate(`history.go(-${pages})`).catch(ignoreLeaving);
    await this.restOf(page).left(from);
    await this.settle(page);
  }

  async newTab(): Promise<void> {
    await this.front();
    const context = await this.opened();
    this.pages.push(await this.watched(context.newPage()));
  }

  /** Has script of the page in front open it once more. */
  async duplicateTab(): Promise<void> {
    const page = await this.front();
    const context = await this.opened();
    const opened = context.waitForEvent('page');
    await page.evaluate('void window.open()');
    const fresh = await this.watched(opened);
    this.pages.push(fresh);
    // It goes there once what it asks for is listened to.
    const blank = fresh.url();
    await fresh.evaluate('location.replace(opener.location.href)').catch(ignoreLeaving);
    await this.restOf(fresh).left(blank);
    await this.settle(fresh);
  }

  async closeTab(): Promise<void> {
    await this.pages.pop()?.close();
  }

  async closeBrowser(): Promise<void> {
    await this.settled();
    await this.context?.close();
    this.context = null;
    this.pages = [];
  }

  async openBrowser(): Promise<void> {
    await this.opened();
  }

  async clearCookies(name: string | null): Promise<void> {
    await (await this.opened()).clearCookies(name === null ? {} : { name });
  }

  /** What a function finds in the page in front, once where it asks the app something. */
  async look<Found>(find: string, argument: unknown, isOnce = false): Promise<Found> {
    const page = await this.front();
    const { patience } = this.site;
    return answered(() => page.evaluate<Found>(`(${find})(${JSON.stringify(argument)})`), patience, isOnce);
  }

  /** The element that a function finds in the page in front; null for none. */
  async element(find: string, argument: unknown): Promise<ElementHandle | null> {
    const page = await this.front();
    const found = await answered(
      () => page.evaluateHandle(`(${find})(${JSON.stringify(argument)})`),
      this.site.patience,
    );
    return found.asElement();
  }

  /** The element that a function finds in another one; null for none. */
  async inside<Argument>(
    element: ElementHandle,
    find: (where: never, argument: Argument) => unknown,
    argument: Argument,
  ): Promise<ElementHandle | null> {
    // The browser gives the function whatever element it is; there are no types of it here.
    const run = find as unknown as (where: unknown, argument: unknown) => unknown;
    return (await element.evaluateHandle(run, argument)).asElement() as ElementHandle | null;
  }

  /** Presses something, and waits until what comes of it is at rest. */
  async press(element: ElementHandle | null): Promise<void> {
    if (element === null) throw new Hindered('the page has nothing to press');
    const page = await this.front();
    const { asked } = this.restOf(page);
    // A script that leaves the page may not live to tell that it has run.
    await element
      .evaluate((each) => {
        (each as unknown as { click(): void }).click();
      })
      .catch(ignoreLeaving);
    await this.settle(page, asked);
  }

  /** Sends a form, and waits until what comes of it is at rest. */
  async submit(form: ElementHandle): Promise<void> {
    const page = await this.front();
    const { asked } = this.restOf(page);
    await form
      .evaluate((each) => {
        (each as unknown as { submit(): void }).submit();
      })
      .catch(ignoreLeaving);
    await this.settle(page, asked);
  }

  /** Waits until what was asked for has been read off. */
  async settled(): Promise<void> {
    await Promise.all(this.reading.splice(0));
  }

  /** Closes the browser for good. */
  async end(): Promise<void> {
    await this.settled().catch(() => undefined);
    await this.context?.close().catch(() => undefined);
    if (this.profile !== null) removeProfile(this.profile);
  }

  private get policy(): Policy {
    return this.site.stage.app.policy;
  }

  private async opened(): Promise<BrowserContext> {
    if (this.context === null) {
      this.context = await this.site.chromium.context(this.profile);
      await this.tellTime(this.context);
      this.pages = await Promise.all(
        this.context
          .pages()
          .slice(0, 1)
          .map((page) => this.watched(Promise.resolve(page))),
      );
    }
    return this.context;
  }

  private async watched(opening: Promise<Page>): Promise<Page> {
    const page = await opening;
    this.unanswered.set(page, new Unanswered(page, this.site.address.host));
    this.rests.set(page, new TabRest(page, this.site.patience));
    page.on('request', (request) => {
      const isPage = request.isNavigationRequest() && request.frame() === page.mainFrame();
      if (isPage) this.went.set(page, request.url());
    });
    page.on('response', (response) => {
      this.reading.push(this.read(page, response).catch(() => undefined));
    });
    page.on('dialog', (dialog) => void dialog.accept().catch(() => undefined));
    return page;
  }

  /** Writes down what the app was asked: pages, and calls by script. Not what pages are drawn with. */
  private async read(page: Page, response: Response): Promise<void> {
    const request = response.request();
    const { address } = this.site;
    const url = new URL(request.url());
    const path = url.host === address.host ? address.withoutBase(url.pathname) : null;
    const isPage = request.isNavigationRequest() && request.frame() === page.mainFrame();
    if (path === null || !(isPage || isCall(request))) return;
    const at = this.time;
    const index = this.messages.length;
    const target = path + url.search;
    const message = {
      method: request.method() as Method,
      target,
      status: response.status(),
      location: null,
      isAgain: false,
      isPage,
    };
    this.messages.push(message);
    const headers = await response.headersArray();
    if (isPage) {
      this.headers = Object.fromEntries(headers.map(({ name, value }) => [name.toLowerCase(), value]));
    }
    for (const { name, value } of headers) {
      if (name.toLowerCase() === 'location') {
        this.messages[index] = { ...message, location: address.inPolicy(value, target) };
      }
      if (name.toLowerCase() !== 'set-cookie') continue;
      this.site.secrets.add(/^[^=;]*=([^;]*)/.exec(value)?.[1]);
      this.ends.learn(value, at);
    }
  }

  /** A page is there with its first byte: whether it comes to rest is seen afterwards. */
  private get atOnce() {
    return { waitUntil: 'commit', timeout: this.site.patience } as const;
  }

  /** What the browser says of a page that did not come is read off afterwards, but for one that nothing comes of. */
  private async loaded(loading: Promise<unknown>, address: string): Promise<void> {
    try {
      await loading;
    } catch (error) {
      if (error instanceof Error && error.name === 'TimeoutError') {
        throw new Hindered(
          `no answer to GET ${address.split('?', 1)[0] ?? ''} within ${this.site.patience / 1000}s`,
        );
      }
      if (!/net::ERR_/.test(String(error))) throw error;
    }
  }

  /** Waits until the tab is at rest. */
  private async settle(page: Page, asked: number | null = null): Promise<void> {
    await this.restOf(page).settle(asked);
    await this.settled();
    const reason = this.unanswered.get(page)?.reason ?? null;
    if (reason !== null) throw new Hindered(reason);
  }

  private restOf(page: Page): TabRest {
    const rest = this.rests.get(page);
    if (rest === undefined) throw new Error('a tab that nobody watches');
    return rest;
  }
}

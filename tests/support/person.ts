import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core';
import type { Policy } from '../../src/core/language/policy';
import { pathOf } from '../../src/core/app/endpoints';
import { ignoreLoops, isOn, leaveBy, sentCode, settled } from './in-page';
import { chromiumOptions } from '../../src/live/chromium-options';
import { takes } from '../../src/core/app/logins';
import type { ChangePassword } from '../../src/core/steps/change-password';
import type { Login } from '../../src/core/steps/login';
import type { Step } from '../../src/core/steps/walk';

const OPTIONS = chromiumOptions(process.env['CHROMIUM'] ?? '/usr/bin/chromium');

/** Starts the Chromium that all people share who do not close theirs. */
export function startChromium(): Promise<Browser> {
  return chromium.launch(OPTIONS);
}

/** A person at a real browser. */
export class Person {
  private context: BrowserContext | null = null;
  /** The last password that was typed, or chosen. */
  private password = '';
  private pages: Page[] = [];
  /** What the forms of the last page of each tab carried, which people go back to. */
  private readonly own = new WeakMap<Page, string>();
  private readonly profile: string | null;

  /** @param closes whether they will close their browser, so that it needs a profile on disk */
  constructor(
    private readonly address: string,
    private readonly otherSite: string,
    private readonly policy: Policy,
    private readonly shared: Browser,
    closes: boolean,
  ) {
    this.profile = closes ? mkdtempSync(join(tmpdir(), 'cavrin-profile-')) : null;
  }

  /** The address of the page in front; null where none was opened. */
  lands(): string | null {
    const url = this.pages.at(-1)?.url() ?? 'about:blank';
    if (!url.startsWith(this.address)) return null;
    return url.slice(this.address.length);
  }

  /** Lets so much time go by that the browser has no page left as it was: as far as it goes, a cookie has changed. */
  async letGo(): Promise<void> {
    const cookie = { name: 'time', value: String(Date.now()), url: this.address };
    await this.context?.addCookies([cookie]);
  }

  /** Makes the browser as good as new for the next walk; one with a profile of its own is closed. */
  async leave(): Promise<void> {
    if (this.profile !== null) {
      await this.context?.close();
      rmSync(this.profile, { recursive: true, force: true });
      return;
    }
    for (const page of this.pages.splice(1)) await page.close();
    const [page] = this.pages;
    if (page?.url().startsWith(this.address) === false) await page.goto(`${this.address}/-/now`);
    await page?.evaluate('sessionStorage.clear(); localStorage.clear()');
    await page?.goto('about:blank');
    if (page !== undefined) {
      await (await page.context().newCDPSession(page)).send('Network.clearBrowserCache');
    }
    await this.context?.clearCookies();
  }

  /** Closes the browser for good. */
  async end(): Promise<void> {
    await this.context?.close();
  }

  /** The page in front, for whoever looks over their shoulder. */
  watched(): Promise<Page> {
    return this.front();
  }

  /** The names of the parts of the page in front that are in sight. */
  async parts(): Promise<string[]> {
    const page = await this.front();
    return page.$$eval('[data-part]', (found) =>
      (found as unknown as { checkVisibility(): boolean; getAttribute(name: string): string }[]).flatMap(
        (part) => (part.checkVisibility() ? part.getAttribute('data-part') : []),
      ),
    );
  }

  /** The cookies that the browser has; those of some names are dropped, as their time has come. */
  async cookies(over: readonly string[] = []): Promise<{ name: string; value: string; expires: number }[]> {
    const context = await this.open();
    for (const name of over) await context.clearCookies({ name });
    return context.cookies(this.address);
  }

  /** @param link the address of a link that was sent to a new account */
  async act({ action }: Step, link: string): Promise<void> {
    const page = await this.front();
    switch (action.verb) {
      case 'visit':
        return action.from === null
          ? this.type(page, action.address)
          : this.fromOtherSite(page, action.address, '');
      case 'confirm':
      case 'open-link':
        return this.type(page, link);
      case 'reset':
        return this.fillIn(page, 'reset', link, [['#password', action.password]]);
      case 'ask-reset':
        return this.fillIn(page, 'ask-reset', this.policy.password?.reset?.page ?? '/', [
          ['#account', action.account],
        ]);
      case 'ask-link':
        return this.fillIn(page, 'ask-link', this.policy.linkLogin?.page ?? '/', [
          ['#account', action.account],
        ]);
      case 'change-password':
        return this.changePassword(page, action);
      case 'follow':
        return this.click(page, `nav a[href="${action.to}"]`);
      case 'reload':
        await page.reload();
        return settled(page);
      case 'back':
        return this.goBack(page, action.pages);
      case 'new-tab':
        this.pages.push(await (await this.open()).newPage());
        return;
      case 'duplicate-tab': {
        const opened = (await this.open()).waitForEvent('page');
        await page.evaluate('void window.open()');
        const fresh = await opened;
        this.pages.push(fresh);
        await Promise.all([
          fresh.waitForURL(/^http/),
          leaveBy(fresh, 'location.replace(opener.location.href)'),
        ]);
        return settled(fresh);
      }
      case 'close-tab':
        await this.pages.pop()?.close();
        return;
      case 'close-browser':
        await this.context?.close();
        this.context = null;
        this.pages = [];
        return;
      case 'open-browser':
        await this.open();
        return;
      case 'clear-cookies':
        await (await this.open()).clearCookies(action.name === null ? {} : { name: action.name });
        return;
      case 'login':
        if (action.with !== null) return this.loginWith(page, action.account, action.with);
        this.password = action.password;
        return this.fillIn(page, ...(await this.loginFor(page, action)), [
          ['#account', action.account],
          ['#password', action.password],
          ...(action.remember ? [['#remember', 'yes'] as const] : []),
        ]);
      case 'sign-up':
        return this.fillIn(page, 'sign-up', this.policy.signUp?.page ?? '/', [
          ['#account', action.account],
          ['#password', action.password],
        ]);
      case 'code':
        return this.fillIn(page, 'code', this.policy.secondFactor?.page ?? '/', [['#code', action.given]]);
      case 'logout':
        return this.signOut(page);
      case 'send':
        return this.send(page, action.method, action.address, action.from);
      default:
        throw new Error(`nobody does ${action.verb} at a browser`);
    }
  }

  /** Pages may come back as they were left, which neither loads them nor tells of it. */
  private async goBack(page: Page, pages: number): Promise<void> {
    const from = page.url();
    await leaveBy(page, `document.documentElement.dataset.leaving = 'yes'; history.go(-${pages})`);
    const isThere = `document.documentElement.dataset.leaving === undefined`;
    for (let tries = 0; tries < 1000; tries++) {
      if (page.url() !== from || (await page.evaluate<boolean>(isThere).catch(() => false))) break;
      await new Promise((go) => setTimeout(go, 5));
    }
    await settled(page);
  }

  private async open(): Promise<BrowserContext> {
    if (this.context === null) {
      this.context =
        this.profile === null
          ? await this.shared.newContext()
          : await chromium.launchPersistentContext(this.profile, OPTIONS);
      this.pages = this.context.pages().slice(0, 1);
    }
    return this.context;
  }

  private async front(): Promise<Page> {
    const context = await this.open();
    const page = this.pages.at(-1) ?? (await context.newPage());
    if (this.pages.length === 0) this.pages.push(page);
    return page;
  }

  private async type(page: Page, typed: string): Promise<void> {
    // The stand-in has another origin than the policy: an address with a host is that of the policy's.
    const address = typed.replace(/^(?:https?:)?\/\/[^/]+/, '');
    await page.goto(this.address + address).catch(ignoreLoops);
    await settled(page);
  }

  private async fromOtherSite(page: Page, address: string, how: string): Promise<void> {
    await page.goto(`${this.otherSite}/?to=${encodeURIComponent(this.address + address)}${how}`);
    await this.click(page, '#go');
  }

  private async fillIn(
    page: Page,
    form: string,
    at: string,
    fields: readonly (readonly [string, string])[],
  ): Promise<void> {
    const shown = `form[data-form="${form}"]`;
    const isThere = async () => page.url().startsWith(this.address) && (await isOn(page, shown));
    if (!(await isThere())) await this.type(page, pathOf(at));
    if (!(await isThere())) return;
    for (const [field, value] of fields) {
      // The right code is read off the page, where the stand-in shows it; one that is late was right once.
      const given = field === '#code' && value !== 'wrong' ? await sentCode(page) : value;
      const change = field === '#remember' ? 'checked = true' : `value = ${JSON.stringify(given)}`;
      await page.evaluate(`document.querySelector('${field}').${change}`);
    }
    await this.click(page, `${shown} p button`);
  }

  /** The form that is filled in, and its page: the one that is named or stands in front, else of the first login that takes the account. */
  private async loginFor(page: Page, { account, at }: Login): Promise<[form: string, page: string]> {
    const { logins, accounts } = this.policy;
    const front = page.url().startsWith(this.address)
      ? await page.evaluate<string | null>(
          `document.querySelector('form[data-form^="login"]')?.dataset.form ?? null`,
        )
      : null;
    const known = accounts.get(account);
    const login =
      logins.find(({ name }) => name === at) ??
      logins.find(({ form }) => form === front) ??
      logins.find((each) => known !== undefined && takes(each, known));
    return [login?.form ?? 'login', login?.page ?? this.policy.login?.page ?? '/'];
  }

  /** Comes in by an identity provider: by the link to it where there is one, and by its form where it does not know the browser. */
  private async loginWith(page: Page, account: string, provider: string): Promise<void> {
    const shown = `form[data-form="with ${provider}"]`;
    const link = `a[data-provider="${provider}"]`;
    if (await isOn(page, link)) await this.click(page, link);
    else if (!(await isOn(page, shown))) {
      await this.type(page, this.policy.providers.find(({ name }) => name === provider)?.start.path ?? '/');
    }
    if (!(await isOn(page, shown))) return;
    await page.evaluate(`document.querySelector('#person').value = ${JSON.stringify(account)}`);
    await this.click(page, `${shown} p button`);
  }

  private async changePassword(page: Page, { old, password }: ChangePassword): Promise<void> {
    const change = this.policy.password?.change;
    if (!change) throw new Error('nobody changes a password here');
    const own = old ?? this.password;
    this.password = password;
    return this.fillIn(page, 'change-password', change.page, [
      ...(change.asksOld ? [['#old-password', own] as const] : []),
      ['#password', password],
    ]);
  }

  private async signOut(page: Page): Promise<void> {
    const button = 'form[data-form="logout"]:not([hidden]) button';
    // Somebody who is signed out already has no button, but may have had one on a page that stood open.
    if (await isOn(page, button)) await this.click(page, button);
    else await this.post(page, this.policy.logout?.submits[0]?.path ?? '/');
  }

  private async send(page: Page, method: string, address: string, from: string | null): Promise<void> {
    if (from !== null) return this.fromOtherSite(page, address, method === 'POST' ? '&form' : '');
    const isCall = /^\/(api|oauth)\//.test(address);
    if (isCall) {
      const fields = JSON.stringify([method, address]);
      await page.evaluate(`const [method, address] = ${fields};
        document.querySelector('#method').value = method;
        document.querySelector('#address').value = address;`);
      return this.click(page, '#call button');
    }
    return method === 'GET' ? this.type(page, address) : this.post(page, address);
  }

  /** Sends a form that the page in front has, as it were, on it. */
  private async post(page: Page, address: string): Promise<void> {
    const own = await page.evaluate<string | null>(`document.querySelector('[data-own]')?.outerHTML ?? null`);
    if (own !== null) this.own.set(page, own);
    await page.evaluate(`document.body.insertAdjacentHTML(
      'beforeend',
      '<form method="post" action="${address}" id="made-up">${this.own.get(page) ?? ''}<button></button></form>',
    )`);
    await this.click(page, '#made-up button');
  }

  private async click(page: Page, what: string): Promise<void> {
    await leaveBy(
      page,
      `{
        const { dataset } = document.documentElement;
        delete dataset.ready;
        dataset.leaving = 'yes';
        document.querySelector(${JSON.stringify(what)}).click();
      }`,
    );
    await settled(page);
  }
}

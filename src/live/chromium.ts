import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromiumOptions, onlyBy } from './chromium-options.js';
import { RunEnded } from './run-ended.js';
import { OutgoingProxy } from './outgoing-proxy.js';
import type * as Playwright from 'playwright-core';
import type { Browser, BrowserContext, BrowserType } from 'playwright-core';

/** Where a Chromium usually lies. */
const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
];

/** The real browser of a run: one program for everybody who does not close theirs. */
export class Chromium {
  private shared: Promise<Browser> | null = null;
  private proxy: OutgoingProxy | null = null;
  private isEnded = false;

  private constructor(
    private readonly type: BrowserType,
    private readonly program: string,
  ) {}

  /**
   * Looks for a Chromium and for what steers it; gives in words what is missing.
   *
   * @param folder where the project lies that may have installed playwright-core
   * @param named the program that somebody named
   */
  static find(folder: string, named: string | undefined): Chromium | string {
    const type = chromiumType(folder);
    if (type === null) return 'playwright-core is not installed: npm install --save-dev playwright-core';
    if (named !== undefined && !existsSync(named)) return `there is no program ${named}`;
    const program = named ?? PLACES.find((place) => existsSync(place)) ?? bundledOf(type);
    if (program === null) {
      return 'there is no Chromium: install the package chromium, or name its program in CHROMIUM';
    }
    return new Chromium(type, program);
  }

  /**
   * A browser that nobody has used; one that will be closed and opened again has a profile of its own on disk.
   *
   * @param recordTo where it writes what it asked once it is closed; null for nowhere
   */
  async context(profile: string | null, recordTo: string | null = null): Promise<BrowserContext> {
    if (this.isEnded) throw new RunEnded('the browser was ended', null);
    if (profile !== null) return this.type.launchPersistentContext(profile, this.options);
    this.shared ??= this.type.launch(this.options);
    return (await this.shared).newContext(recordTo === null ? {} : { recordHar: { path: recordTo } });
  }

  /** Closes it for good. */
  async end(): Promise<void> {
    this.isEnded = true;
    const { shared } = this;
    this.shared = null;
    await (await shared)?.close();
    this.proxy?.stop();
    this.proxy = null;
  }

  /**
   * Nothing but these is asked for, by whatever page or script.
   *
   * @param origins each as `http://127.0.0.1:3000`
   */
  async onlyFor(origins: readonly string[]): Promise<void> {
    this.proxy?.stop();
    this.proxy = await OutgoingProxy.start(origins);
  }

  /** What else pages asked for, in words; null for nothing. */
  get refused(): string | null {
    return this.proxy?.told ?? null;
  }

  private get options() {
    return chromiumOptions(this.program, this.proxy === null ? [] : onlyBy(this.proxy));
  }
}

/** A new folder for a profile. */
export function newProfile(): string {
  return mkdtempSync(join(tmpdir(), 'cavrin-profile-'));
}

export function removeProfile(folder: string): void {
  rmSync(folder, { recursive: true, force: true });
}

/** What steers Chromium is no part of this package: it is looked for where the project is, then beside this program. */
function chromiumType(folder: string): BrowserType | null {
  for (const from of [join(folder, 'package.json'), join(import.meta.dirname, 'package.json')]) {
    try {
      const { chromium } = createRequire(from)('playwright-core') as typeof Playwright;
      return chromium;
    } catch {
      // It may be in the other place.
    }
  }
  return null;
}

function bundledOf(type: BrowserType): string | null {
  const place = type.executablePath();
  return existsSync(place) ? place : null;
}

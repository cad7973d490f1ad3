import type { LiveConfig, Secrets, Stage } from '../core/internal.js';
import { AppAddress } from './app-address.js';
import type { Chromium } from './chromium.js';
import { startOtherSite, type OtherSite } from './other-site.js';
import type { BrowserSite } from './person.js';
import { Proxy } from './proxy.js';

/** All that walks in a real browser need beside the app: Chromium, another site, and a proxy where the app stands behind one. */
export class Browsers {
  private constructor(
    private readonly chromium: Chromium,
    private readonly config: LiveConfig,
    private readonly stage: Stage,
    private readonly otherSite: OtherSite,
    private readonly proxy: Proxy | null,
    private readonly secrets: Secrets,
    private readonly patience: number,
  ) {}

  /** @param patience after how many milliseconds an answer is given up */
  static async start(
    chromium: Chromium,
    config: LiveConfig,
    stage: Stage,
    secrets: Secrets,
    patience: number,
  ): Promise<Browsers> {
    const { origin, hostname } = new URL(config.at);
    const { origin: home } = stage.app.policy;
    const proxy = config.isForwarding ? await Proxy.start(origin, home) : null;
    const own = proxy === null ? hostname : '127.0.0.1';
    // Names and numbers of this machine are sites of their own.
    const otherSite = await startOtherSite(own === 'localhost' ? '127.0.0.1' : 'localhost');
    await chromium.onlyFor([proxy?.address ?? origin, otherSite.address]);
    return new Browsers(chromium, config, stage, otherSite, proxy, secrets, patience);
  }

  /** @param start milliseconds since 1970 at which the virtual clock stands at zero */
  siteAt(start: number): BrowserSite {
    const { stage, config, chromium, otherSite, secrets, patience } = this;
    const base = new URL(config.at).pathname.replace(/\/$/, '');
    const at = this.proxy === null ? config.at : this.proxy.address + base;
    return {
      stage,
      config,
      chromium,
      otherSite,
      secrets,
      patience,
      start,
      address: new AppAddress(at, stage.app.policy.origin),
    };
  }

  async end(): Promise<void> {
    await this.chromium.end();
    this.otherSite.stop();
    this.proxy?.stop();
  }
}

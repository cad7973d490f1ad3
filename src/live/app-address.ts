/** A reference without a scheme or a host of its own: it stays on whatever it was asked of. */
const IS_RELATIVE = /^(?![a-z][a-z\d+.-]*:|[\\/]{2})/i;

/** Where an app is, and how its addresses and those of its policy come down to each other. */
export class AppAddress {
  private readonly url: URL;
  private readonly base: string;

  /**
   * @param at origin and base path of the app, without a slash at the end
   * @param home the origin that the policy gives the app
   */
  constructor(
    readonly at: string,
    private readonly home: string,
  ) {
    this.url = new URL(at);
    this.base = this.url.pathname.replace(/\/$/, '');
  }

  get host(): string {
    return this.url.host;
  }

  get origin(): string {
    return this.url.origin;
  }

  /** The path under which the app takes an address of the policy, base path included. */
  pathOf(target: string): string {
    return this.base + target;
  }

  /**
   * A reference that the app gave out, as the policy would write it: what lies under the app's address is the policy's own origin,
   * and so is what the app itself calls by the policy's name. Anything else stays what it is.
   *
   * @param from the target of the request whose answer has it
   */
  inPolicy(reference: string, from: string): string {
    let url: URL;
    try {
      url = new URL(reference, this.origin + this.pathOf(from));
    } catch {
      return reference;
    }
    if (IS_RELATIVE.test(reference) && url.host === this.url.host) {
      const path = this.withoutBase(url.pathname);
      return path === null ? url.href : path + url.search;
    }
    const home = new URL(this.home);
    const isHere = url.host === this.url.host;
    if (!isHere && url.host !== home.host) return url.href;
    const path = isHere ? this.withoutBase(url.pathname) : url.pathname;
    if (path === null) return url.href;
    // Behind a proxy that ends TLS the app may name either scheme; one that names its own address means itself.
    const isOtherScheme = isHere ? url.protocol !== this.url.protocol : url.protocol !== home.protocol;
    const origin =
      isOtherScheme && url.protocol !== home.protocol ? `${url.protocol}//${home.host}` : this.home;
    return origin + path + url.search;
  }

  /** A path without the base path; null where it does not lie below it. */
  withoutBase(path: string): string | null {
    if (this.base === '') return path;
    if (path === this.base) return '/';
    return path.startsWith(`${this.base}/`) ? path.slice(this.base.length) : null;
  }
}

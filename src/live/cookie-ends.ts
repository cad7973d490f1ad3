import type { BrowserContext } from 'playwright-core';

/** When the cookies of a real browser are over, in seconds from the start: its own clock cannot be moved. */
export class CookieEnds {
  private readonly ends = new Map<string, number>();

  /** @param start milliseconds since 1970 at which the virtual clock stands at zero */
  constructor(private readonly start: number) {}

  /**
   * Learns what a Set-Cookie header says of a life: a date is one on the app's clock, a life counts from when the cookie came.
   *
   * @param at when it came, in seconds from the start
   */
  learn(header: string, at: number): void {
    const [, name = ''] = /^\s*([^=;]*)=/.exec(header) ?? [];
    const [, life] = /;\s*max-age\s*=\s*(-?\d+)/i.exec(header) ?? [];
    const [, date] = /;\s*expires\s*=\s*([^;]+)/i.exec(header) ?? [];
    const byDate = date === undefined ? Number.NaN : (Date.parse(date) - this.start) / 1000;
    const end = life === undefined ? byDate : at + Number(life);
    if (Number.isNaN(end)) this.ends.delete(name);
    else this.ends.set(name, end);
  }

  /** Takes over what is known of a cookie of another browser; a copy is kept for as long as anybody likes. */
  take(name: string, from: CookieEnds, isCopy: boolean): void {
    const end = from.ends.get(name);
    if (isCopy || end === undefined) this.ends.delete(name);
    else this.ends.set(name, end);
  }

  /** Drops from a browser what is over by a time. */
  async drop(context: BrowserContext, time: number): Promise<void> {
    for (const [name, end] of this.ends) {
      if (end > time) continue;
      await context.clearCookies({ name });
      this.ends.delete(name);
    }
  }
}

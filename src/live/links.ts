import type { Deeds } from './deeds.js';
import type { Deed, Observed, StepResult } from '../core/internal.js';
import { linkOf } from '../core/internal.js';

/** The links that an app has sent, and how the policy writes them: the secret in a link is another in every run. */
export class Links {
  private readonly known = new Map<string, string>();

  constructor(private readonly deeds: Deeds) {}

  /**
   * The last link that was sent to somebody, as the app has sent it. Whoever opens it may be sent a code then.
   *
   * @param result the step in which it is opened, as it is simulated
   * @param typed how it is typed; left out: as it was sent
   */
  async sentTo(
    { step: { browser }, played }: StepResult,
    account: string,
    typed = (link: string) => link,
  ): Promise<string> {
    this.deeds.logins.set(browser, account);
    const link = typed(await this.deeds.linkFor(account));
    this.set(link, played.exchanges[0]?.request.path ?? link);
    return link;
  }

  /** What is done at a link, at the one that the app has sent; any other deed as it is. */
  async atLink(deed: Deed, result: StepResult): Promise<Deed> {
    const link = linkOf(result.step.action);
    if (link === null) return deed;
    const at = await this.sentTo(result, link.account);
    if (deed.deed === 'open') return { ...deed, address: at };
    return deed.deed === 'fill-in' ? { ...deed, fill: { ...deed.fill, at } } : deed;
  }

  private set(link: string, written: string): void {
    this.known.set(link, written);
  }

  /** The same with every link as the policy writes it. */
  named(seen: Observed): Observed {
    if (this.known.size === 0) return seen;
    return {
      ...seen,
      lands: seen.lands === null ? null : this.name(seen.lands),
      via: seen.via.map((address) => this.name(address)),
      messages: seen.messages.map((message) => ({ ...message, target: this.name(message.target) })),
    };
  }

  private name(address: string): string {
    return this.known.get(address) ?? address;
  }
}

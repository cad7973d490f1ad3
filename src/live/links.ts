import type { Observed } from '../core/internal.js';

/** The links that an app has sent, and how the policy writes them: the secret in a link is another in every run. */
export class Links {
  private readonly known = new Map<string, string>();

  set(link: string, written: string): void {
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

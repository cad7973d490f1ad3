import { randomBytes } from 'node:crypto';
import type { Wire } from '../wire.js';

/** What a code was given for (RFC 6749 §4.1.3, RFC 7636 §4.4). */
export interface Grant {
  readonly clientId: string;
  readonly redirectUri: string;
  readonly nonce: string | null;
  readonly challenge: string | null;
  readonly person: string;
}

/**
 * What a provider has given to clients: codes, and access tokens for them. A reset ends them all, as the app's own. There are never
 * more than the app half keeps codes.
 */
export class Grants {
  /** By the code, as it goes over the wire. */
  private grants = new Map<string, Grant>();
  /** Who each access token is for. */
  private people = new Map<string, string>();
  private current: Wire;

  /** @param wire the wire of the app, which is another after a reset */
  constructor(private readonly wire: () => Wire) {
    this.current = wire();
  }

  add(code: string, grant: Grant): void {
    this.renew();
    this.grants.set(code, grant);
  }

  /** The grant of a code, which is good once, for the client that it was given to; undefined for none. */
  take(code: string, client: string): Grant | undefined {
    this.renew();
    const grant = this.grants.get(code);
    if (grant?.clientId !== client) return undefined;
    this.grants.delete(code);
    return grant;
  }

  /** A new access token for somebody. */
  tokenFor(person: string): string {
    const token = randomBytes(24).toString('base64url');
    this.people.set(token, person);
    return token;
  }

  /** Who an access token is for; undefined for nobody. */
  personOf(token: string): string | undefined {
    this.renew();
    return this.people.get(token);
  }

  private renew(): void {
    const now = this.wire();
    if (now === this.current) return;
    this.current = now;
    this.grants = new Map();
    this.people = new Map();
  }
}

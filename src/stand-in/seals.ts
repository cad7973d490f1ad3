import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

/**
 * Makes unguessable what the app only numbers: on the wire the handle of a session, refresh token or link carries a keyed
 * hash (HMAC, RFC 2104) of itself. The key is made anew at each start.
 */
export class Seals {
  private readonly key = randomBytes(32);

  /** A handle as it goes over the wire. */
  seal(handle: string): string {
    return `${handle}.${this.mark(handle)}`;
  }

  /** The handle in what came over the wire; empty for what was not sealed here. */
  open(sealed: string): string {
    const dot = sealed.lastIndexOf('.');
    const handle = sealed.slice(0, Math.max(0, dot));
    const shown = Buffer.from(sealed.slice(dot + 1));
    const right = Buffer.from(this.mark(handle));
    return shown.length === right.length && timingSafeEqual(shown, right) ? handle : '';
  }

  /** Six digits that only the receiver of a message could know. */
  digits(of: string): string {
    const number = createHmac('sha256', this.key).update(`code ${of}`).digest().readUInt32BE();
    return String(number % 1_000_000).padStart(6, '0');
  }

  private mark(handle: string): string {
    return createHmac('sha256', this.key).update(handle).digest('base64url').slice(0, 22);
  }
}

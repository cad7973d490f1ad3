import type { Socket } from 'node:net';

/** How many requests may wait for their answers on one connection. */
const MOST = 100;

/**
 * Requests that wait for their answers, by connection. Whoever sends without waiting (RFC 9112 §9.3.2) would be served before
 * all others; a connection on which too many wait is closed.
 */
export class Waiting {
  private readonly sent = new WeakMap<Socket, number>();

  /** Counts one more; whether the connection is closed for it, or was before. */
  isTooMany(socket: Socket): boolean {
    if (socket.destroyed) return true;
    const waiting = (this.sent.get(socket) ?? 0) + 1;
    this.sent.set(socket, waiting);
    if (waiting <= MOST) return false;
    socket.destroy();
    return true;
  }

  answered(socket: Socket): void {
    this.sent.set(socket, (this.sent.get(socket) ?? 1) - 1);
  }
}

import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';

const VERSION = 5;
const NO_LOGIN = 0;
const CONNECT = 1;
/** Replies of RFC 1928 §6. */
const REPLY = { done: 0, notAllowed: 2, refused: 5, unknownCommand: 7 } as const;
/** What Chromium asks for by itself, which no page wants. */
const OWN_ERRANDS: ReadonlySet<string> = new Set([
  ...['update.googleapis.com', 'content-autofill.googleapis.com', 'optimizationguide-pa.googleapis.com'],
  ...['accounts.google.com', 'clients2.google.com', 'redirector.gvt1.com', 'edgedl.me.gvt1.com'],
]);
/** Addresses that are told, of a page that asks for thousands. */
const MOST_TOLD = 20;

/**
 * The only way out of the browsers of a run (SOCKS 5, RFC 1928): it lets through what is for the addresses of the run, byte for byte,
 * and nothing else, whatever kind of request it is.
 */
export class OutgoingProxy {
  private readonly refused = new Map<string, number>();
  private readonly open = new Set<Socket>();

  private constructor(
    private readonly server: Server,
    private readonly allowed: ReadonlySet<string>,
  ) {
    server.on('connection', (socket) => {
      this.keep(socket);
      this.greet(socket);
    });
  }

  /** @param origins what may be asked, each as `http://127.0.0.1:3000` */
  static async start(origins: readonly string[]): Promise<OutgoingProxy> {
    const server = createServer();
    const proxy = new OutgoingProxy(server, new Set(origins.map(endOf)));
    await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
    return proxy;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  /** The other addresses that pages asked for, in words; null for none. */
  get told(): string | null {
    const all = [...this.refused].map(([end, times]) => (times === 1 ? end : `${end} (${times} times)`));
    if (all.length === 0) return null;
    const more = all.length > MOST_TOLD ? [`and ${all.length - MOST_TOLD} more`] : [];
    return `pages asked for other addresses, which were not let through: ${[...all.slice(0, MOST_TOLD), ...more].join(', ')}`;
  }

  stop(): void {
    this.server.close();
    for (const socket of this.open) socket.destroy();
  }

  private keep(socket: Socket): void {
    this.open.add(socket);
    socket.on('close', () => this.open.delete(socket));
    socket.on('error', () => socket.destroy());
  }

  /** Reads the greeting and the request of a client, which may come in pieces (RFC 1928 §3 and §4). */
  private greet(socket: Socket): void {
    let had = Buffer.alloc(0);
    let isGreeted = false;
    const read = (data: Buffer) => {
      had = Buffer.concat([had, data]);
      if (!isGreeted) {
        const length = 2 + (had[1] ?? 0);
        if (had.length < 2 || had.length < length) return;
        if (had[0] !== VERSION) {
          socket.destroy();
          return;
        }
        isGreeted = true;
        socket.write(Buffer.from([VERSION, NO_LOGIN]));
        had = had.subarray(length);
      }
      const asked = requestIn(had);
      if (asked === null) return;
      socket.off('data', read);
      socket.pause();
      if (asked.command !== CONNECT) answer(socket, REPLY.unknownCommand);
      else this.passOn(socket, asked, had.subarray(asked.length));
    };
    socket.on('data', read);
  }

  private passOn(socket: Socket, { host, port }: Asked, rest: Buffer): void {
    const end = `${plain(host)}:${port}`;
    if (!this.allowed.has(end)) {
      if (!OWN_ERRANDS.has(host)) this.refused.set(end, (this.refused.get(end) ?? 0) + 1);
      answer(socket, REPLY.notAllowed);
      return;
    }
    // Names below localhost are this machine, whether or not its resolver knows (RFC 6761 §6.3).
    const onward = connect({ host: host.endsWith('.localhost') ? 'localhost' : host, port });
    this.keep(onward);
    onward.once('connect', () => {
      answer(socket, REPLY.done);
      if (rest.length > 0) onward.write(rest);
      socket.pipe(onward).pipe(socket);
      socket.on('close', () => onward.destroy());
      onward.on('close', () => socket.destroy());
    });
    onward.once('error', () => {
      answer(socket, REPLY.refused);
    });
  }
}

interface Asked {
  readonly command: number;
  readonly host: string;
  readonly port: number;
  /** How many bytes it takes. */
  readonly length: number;
}

/** The request in some bytes (RFC 1928 §4); null where it is not complete yet. */
function requestIn(bytes: Buffer): Asked | null {
  const [, command = 0, , kind = 0, size = 0] = bytes;
  const at = kind === NAME ? 5 : 4;
  const width = kind === NAME ? size : kind === IPV4 ? 4 : 16;
  if (bytes.length < 5 || bytes.length < at + width + 2) return null;
  const address = bytes.subarray(at, at + width);
  const words = () => Array.from({ length: 8 }, (_, each) => address.readUInt16BE(each * 2).toString(16));
  const host =
    kind === NAME ? address.toString('latin1') : kind === IPV4 ? address.join('.') : words().join(':');
  return { command, host, port: bytes.readUInt16BE(at + width), length: at + width + 2 };
}

const IPV4 = 1;
const NAME = 3;

function answer(socket: Socket, reply: number): void {
  if (socket.destroyed) return;
  const bytes = Buffer.from([VERSION, reply, 0, IPV4, 0, 0, 0, 0, 0, 0]);
  if (reply === REPLY.done) socket.write(bytes);
  else socket.end(bytes);
}

/** The host and port that an origin is asked at. */
function endOf(origin: string): string {
  const { hostname, port, protocol } = new URL(origin);
  return `${hostname}:${port === '' ? (protocol === 'https:' ? 443 : 80) : port}`;
}

/** A host as URLs write it; what is none stays what it is. */
function plain(host: string): string {
  const address = `http://${host.includes(':') ? `[${host}]` : host}`;
  return URL.canParse(address) ? new URL(address).hostname : host;
}

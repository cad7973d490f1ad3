import { Agent as PlainAgent, request as plainRequest, type OutgoingHttpHeaders } from 'node:http';
import { connect } from 'node:net';
import { Agent as TlsAgent, request as tlsRequest } from 'node:https';
import type { AppAddress } from './app-address.js';
import { cutAtDepth } from './page-depth.js';

/** An answer as it came over the wire. */
export interface Answer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | readonly string[] | undefined>>;
  readonly body: string;
}

/** That the app gave no answer; `reason` is a sentence without a full stop. */
export class NoAnswer extends Error {
  constructor(
    readonly reason: string,
    /** Whether nothing listens there at all. */
    readonly isGone: boolean,
  ) {
    super(reason);
  }
}

/** A body larger than that is cut: nothing that is looked for on a page comes after it. */
const MOST_BYTES = 5 * 1024 * 1024;

/** The only way in which a run speaks to an app: nothing but what lies under its address is asked. */
export class Transport {
  private readonly agents;
  private readonly waiting: (() => void)[] = [];
  private open = 0;
  private readonly stopped = new AbortController();
  /** How many requests were made. */
  requests = 0;

  /**
   * @param parallel how many requests may be open at once
   * @param patience after how many milliseconds an answer is given up
   */
  constructor(
    private readonly address: AppAddress,
    private readonly parallel: number,
    readonly patience: number,
  ) {
    this.agents = {
      'http:': new PlainAgent({ keepAlive: true }),
      'https:': new TlsAgent({ keepAlive: true }),
    };
  }

  /** No request is begun after this, and those under way are given up. */
  stop(): void {
    this.stopped.abort();
    this.agents['http:'].destroy();
    this.agents['https:'].destroy();
  }

  get isStopped(): boolean {
    return this.stopped.signal.aborted;
  }

  /** Connections of an app that was stopped lead nowhere. */
  forget(): void {
    this.agents['http:'].destroy();
    this.agents['https:'].destroy();
  }

  /**
   * Sends one request.
   *
   * @param target path and query in the policy's own addresses
   * @throws NoAnswer where none comes
   */
  async send(method: string, target: string, headers: OutgoingHttpHeaders, body = ''): Promise<Answer> {
    if (this.open >= this.parallel) await new Promise<void>((go) => this.waiting.push(go));
    this.open += 1;
    try {
      if (this.stopped.signal.aborted) throw new NoAnswer('the run was stopped', false);
      this.requests += 1;
      return await this.exchange(method, this.address.pathOf(target), headers, body);
    } finally {
      this.open -= 1;
      this.waiting.shift()?.();
    }
  }

  /** Whether something listens where the app is. */
  isThere(): Promise<boolean> {
    const { host, port } = this.place;
    return new Promise((settle) => {
      const socket = connect({ host, port });
      socket.once('connect', () => {
        socket.destroy();
        settle(true);
      });
      socket.once('error', () => {
        settle(false);
      });
    });
  }

  private get place() {
    const { hostname, port, protocol } = new URL(this.address.at);
    const isTls = protocol === 'https:';
    const host = hostname.replace(/^\[|\]$/g, '');
    return { isTls, host, port: port === '' ? (isTls ? 443 : 80) : Number(port) };
  }

  private exchange(
    method: string,
    path: string,
    headers: OutgoingHttpHeaders,
    body: string,
    isAgain = false,
  ): Promise<Answer> {
    const { isTls, host, port } = this.place;
    const length =
      body === '' && (method === 'GET' || method === 'HEAD')
        ? {}
        : { 'content-length': Buffer.byteLength(body) };
    const options = {
      host,
      port,
      method,
      path,
      headers: { ...headers, ...length },
      agent: isTls ? this.agents['https:'] : this.agents['http:'],
      signal: this.stopped.signal,
    };
    return new Promise((settle, fail) => {
      const sent = (isTls ? tlsRequest : plainRequest)(options, (answer) => {
        const parts: Buffer[] = [];
        let length = 0;
        hasBegun = true;
        const end = () => {
          clearTimeout(timer);
          const text = Buffer.concat(parts).toString('utf8');
          const body = /html/i.test(answer.headers['content-type'] ?? '') ? cutAtDepth(text) : text;
          settle({ status: answer.statusCode ?? 0, headers: answer.headers, body });
        };
        answer.on('data', (part: Buffer) => {
          parts.push(part);
          length += part.length;
          if (length < MOST_BYTES) return;
          end();
          sent.destroy();
        });
        answer.on('error', (error) => {
          clearTimeout(timer);
          fail(refusal(error));
        });
        answer.on('end', end);
      });
      let hasBegun = false;
      const timer = setTimeout(() => {
        sent.destroy();
        const what = hasBegun ? 'no end of the answer' : 'no answer';
        const asked = `${method} ${path.split('?', 1)[0] ?? ''}`;
        fail(new NoAnswer(`${what} to ${asked} within ${this.patience / 1000}s`, false));
      }, this.patience);
      sent.on('error', (error: NodeJS.ErrnoException) => {
        clearTimeout(timer);
        // A connection that was kept may have been closed by the app just now (RFC 9112 §9.3.1). As browsers do, whatever the method.
        const isStale = sent.reusedSocket && !hasBegun && !isAgain && error.code === 'ECONNRESET';
        if (isStale) this.exchange(method, path, headers, body, true).then(settle, fail);
        else fail(refusal(error));
      });
      sent.end(body);
    });
  }
}

function refusal(error: NodeJS.ErrnoException): NoAnswer {
  switch (error.code) {
    case 'ECONNREFUSED':
      return new NoAnswer('nothing listens there', true);
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return new NoAnswer('there is no such host', true);
    case 'ECONNRESET':
    case 'EPIPE':
      return new NoAnswer('the app closed the connection without an answer', true);
    default:
      return new NoAnswer(
        error.code === undefined ? error.message : `the connection failed (${error.code})`,
        false,
      );
  }
}

import { createServer, request as plainRequest, type Server } from 'node:http';
import { request as tlsRequest } from 'node:https';
import type { AddressInfo } from 'node:net';

/** What stands between a browser and an app that expects to be behind a proxy that ends TLS. */
export class Proxy {
  private constructor(
    private readonly server: Server,
    readonly address: string,
  ) {}

  /**
   * @param at the origin of the app
   * @param home the origin under which the app is known, which is what it is told that it was asked by
   */
  static async start(at: string, home: string): Promise<Proxy> {
    const app = new URL(at);
    const own = new URL(home);
    const state = { address: '' };
    const inward = (value: string) => value.replace(state.address, home);
    const outward = (value: string) =>
      value.startsWith(`${home}/`) || value === home ? state.address + value.slice(home.length) : value;
    const server = createServer((request, response) => {
      const { method, url: path } = request;
      const headers = {
        ...request.headers,
        host: own.host,
        'x-forwarded-proto': own.protocol.slice(0, -1),
        'x-forwarded-for': request.socket.remoteAddress ?? '127.0.0.1',
        ...(request.headers.origin === undefined ? {} : { origin: inward(request.headers.origin) }),
        ...(request.headers.referer === undefined ? {} : { referer: inward(request.headers.referer) }),
      };
      const send = app.protocol === 'https:' ? tlsRequest : plainRequest;
      const onward = send({ host: app.hostname, port: app.port, method, path, headers }, (answer) => {
        const { location } = answer.headers;
        const all = { ...answer.headers, ...(location === undefined ? {} : { location: outward(location) }) };
        response.writeHead(answer.statusCode ?? 502, all);
        answer.pipe(response);
      });
      onward.on('error', () => response.writeHead(502).end());
      request.pipe(onward);
    });
    await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
    state.address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    return new Proxy(server, state.address);
  }

  stop(): void {
    this.server.closeAllConnections();
    this.server.close();
  }
}

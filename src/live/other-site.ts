import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

/** A site on a host of its own, with a link or a form that leads where it is told. */
export interface OtherSite {
  readonly address: string;
  stop(): void;
}

/** @param host the name under which it is asked, which is another site than the app's */
export async function startOtherSite(host: string): Promise<OtherSite> {
  const server = createServer((request, response) => {
    const { searchParams } = new URL(request.url ?? '/', 'http://localhost');
    const to = (searchParams.get('to') ?? '/').replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
    const fields = searchParams
      .getAll('field')
      .map((pair) =>
        pair
          .split('=', 2)
          .map((part) =>
            decodeURIComponent(part).replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`),
          ),
      )
      .map(([name = '', value = '']) => `<input type="hidden" name="${name}" value="${value}">`)
      .join('');
    response.setHeader('content-type', 'text/html; charset=utf-8');
    response.end(
      searchParams.has('form')
        ? `<!doctype html><form method="post" action="${to}">${fields}<button id="go">Go</button></form>`
        : `<!doctype html><a id="go" href="${to}">Go</a>`,
    );
  });
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  const { port } = server.address() as AddressInfo;
  return {
    address: `http://${host}:${port}`,
    stop() {
      server.closeAllConnections();
      server.close();
    },
  };
}

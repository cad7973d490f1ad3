import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

/** Another site, on a host of its own: a page with a link or a form that leads where it is told. */
export async function startOtherSite(): Promise<{ readonly address: string; stop(): void }> {
  const server = createServer((request, response) => {
    const { searchParams } = new URL(request.url ?? '/', 'http://localhost');
    const to = searchParams.get('to') ?? '/';
    response.setHeader('content-type', 'text/html; charset=utf-8');
    response.end(
      searchParams.has('form')
        ? `<!doctype html><form method="post" action="${to}"><button id="go">Go</button></form>`
        : `<!doctype html><a id="go" href="${to}">Go</a>`,
    );
  });
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  const { port } = server.address() as AddressInfo;
  return { address: `http://localhost:${port}`, stop: () => server.close() };
}

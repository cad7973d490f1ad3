import { createServer, type AddressInfo, type Socket } from 'node:net';
import { AppAddress } from '../../src/live/app-address';
import { NoAnswer, Transport } from '../../src/live/transport';

/** What an app does with a request: it answers and keeps the connection, or closes it without a word. */
type Deed = 'answers' | 'closes';

let close: () => void = () => undefined;
afterEach(() => {
  close();
});

/** An app that does so with its requests in turn, and a transport to it; `seen` are the connections of the requests. */
async function app(deeds: readonly Deed[]) {
  const seen: Socket[] = [];
  const server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.on('data', () => {
      seen.push(socket);
      if (deeds[seen.length - 1] === 'answers') {
        socket.write('HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok');
      } else socket.resetAndDestroy();
    });
  });
  await new Promise<void>((go) => server.listen(0, '127.0.0.1', go));
  const { port } = server.address() as AddressInfo;
  const at = `http://127.0.0.1:${port}`;
  const transport = new Transport(new AppAddress(at, 'https://harbour.example'), 1, 5_000);
  close = () => {
    transport.stop();
    server.close();
  };
  const ask = (method: string) => transport.send(method, '/', {}).then(({ status }) => status);
  return { seen, ask };
}

test.each([['GET'], ['POST']])('a kept connection that was closed is tried once more: %s', async (method) => {
  const { ask, seen } = await app(['answers', 'closes', 'answers']);
  expect([await ask('GET'), await ask(method)]).toEqual([200, 200]);
  expect(seen[1]).toBe(seen[0]);
  expect(seen[2]).not.toBe(seen[0]);
});

test('it is tried once only', async () => {
  const { ask, seen } = await app(['answers', 'closes', 'closes', 'answers']);
  await ask('GET');
  await expect(ask('GET')).rejects.toThrow(NoAnswer);
  expect(seen).toHaveLength(3);
});

test('a new connection that is closed is the answer of the app', async () => {
  const { ask, seen } = await app(['closes', 'answers']);
  await expect(ask('GET')).rejects.toThrow('closed the connection without an answer');
  expect(seen).toHaveLength(1);
});

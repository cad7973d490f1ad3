import { createSocket } from 'node:dgram';
import { createServer, type AddressInfo } from 'node:net';

/** A port of this machine, by TCP and by UDP, at which nobody may ask. */
export interface Listeners {
  readonly tcp: number;
  readonly udp: number;
  /** What came, each as `tcp: …` or `udp: …`. */
  readonly came: string[];
  stop(): void;
}

/** Listens at two ports, and answers nothing. */
export async function startListening(): Promise<Listeners> {
  const came: string[] = [];
  const server = createServer((socket) => {
    came.push('tcp: a connection');
    socket.on('data', (data) => came.push(`tcp: ${data.toString('latin1')}`)).on('error', () => undefined);
  });
  const socket = createSocket('udp4');
  socket.on('message', (data) => came.push(`udp: ${data.toString('latin1')}`));
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  await new Promise<void>((listening) => socket.bind(0, '127.0.0.1', listening));
  return {
    tcp: (server.address() as AddressInfo).port,
    udp: socket.address().port,
    came,
    stop() {
      server.close();
      socket.close();
    },
  };
}

import { spawn } from 'node:child_process';
import { connect, createServer, type AddressInfo } from 'node:net';
import { liveFormat, type LiveJson } from '../../src/render/json-formats';
import { PROGRAM, type Run } from './program';

/** A port at which nothing listens. */
export function freePort(): Promise<number> {
  const server = createServer();
  return new Promise((settle) => {
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => {
        settle(port);
      });
    });
  });
}

/** Whether something listens at a port. */
export function isListening(port: number): Promise<boolean> {
  return new Promise((settle) => {
    const socket = connect(port, '127.0.0.1');
    socket.on('connect', () => {
      socket.destroy();
      settle(true);
    });
    socket.on('error', () => {
      settle(false);
    });
  });
}

/** Waits until something listens at a port. */
export async function untilListening(port: number): Promise<void> {
  while (!(await isListening(port))) await new Promise((go) => setTimeout(go, 20));
}

/** An app that runs, for as long as something is done with it. */
export async function whileRunning<T>(file: string, act: (at: string) => T): Promise<T> {
  const port = await freePort();
  const child = spawn(process.execPath, [file], { env: { PATH: process.env['PATH'], PORT: String(port) } });
  try {
    await untilListening(port);
    return act(`http://127.0.0.1:${port}`);
  } finally {
    child.kill();
  }
}

/** Runs `cavrin live` as built, while this process goes on. */
export function live(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<Run & { readonly seconds: number }> {
  const began = Date.now();
  const own = { PATH: process.env['PATH'], CHROMIUM: process.env['CHROMIUM'], ...env };
  const child = spawn(process.execPath, [PROGRAM, 'live', ...args], { cwd: folder, env: own });
  const texts = { out: '', err: '' };
  child.stdout.on('data', (part: Buffer) => (texts.out += part.toString()));
  child.stderr.on('data', (part: Buffer) => (texts.err += part.toString()));
  return new Promise((settle) => {
    child.on('exit', (status) => {
      settle({ ...texts, status, seconds: (Date.now() - began) / 1000 });
    });
  });
}

/** What a run found, in the form for programs, held against its format. */
export async function found(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<LiveJson> {
  const { out, err } = await live(folder, [...args, '--format', 'json'], env);
  if (out === '') throw new Error(err);
  return liveFormat.parse(JSON.parse(out));
}

// Requests a second of the stand-in, against the same HTTP server answering a constant. Each server runs in a process of
// its own, and so does the load.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import autocannon from 'autocannon';

const root = process.cwd();

/** Starts a server that prints its address. */
async function start(...args: string[]) {
  const server = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'ignore'] });
  const address = await new Promise<string>((settle) => {
    server.stdout.once('data', (text) => {
      settle(String(text).trim());
    });
  });
  return { address, stop: () => server.kill('SIGTERM') };
}

async function perSecond(url: string, headers: Record<string, string> = {}): Promise<number> {
  const load = { url, headers, connections: 20, duration: 4 };
  await autocannon({ ...load, duration: 1 });
  const { requests, non2xx } = await autocannon(load);
  if (non2xx > 0) throw new Error(`${url}: ${non2xx} requests were refused`);
  return requests.average;
}

/** Requests a second: a constant, a page for a guest, a page for somebody signed in, and a call with a token. */
export async function standInRates() {
  const bare = await start(join(root, 'scripts', 'run.mjs'), join(root, 'bench', 'bare-server.ts'));
  const constant = await perSecond(`${bare.address}/`);
  bare.stop();
  const policy = join(root, 'examples', 'harbour', 'cavrin.yaml');
  const standIn = await start(
    join(root, 'dist', 'cavrin.cjs'),
    'serve',
    policy,
    '--quiet',
    '--clock',
    'virtual',
  );
  const { address } = standIn;
  const login = await fetch(`${address}/sign-in`, {
    method: 'POST',
    headers: { accept: 'application/json', 'content-type': 'application/x-www-form-urlencoded' },
    body: 'account=tomas&password=kelp-31',
  });
  const cookie = login.headers.get('set-cookie')?.split(';')[0] ?? '';
  const { access_token: token } = (await login.json()) as { access_token: string };
  const accept = 'text/html';
  const rates = {
    guest: await perSecond(`${address}/tides`, { accept }),
    signedIn: await perSecond(`${address}/berths`, { accept, cookie }),
    call: await perSecond(`${address}/api/berths`, { authorization: `Bearer ${token}` }),
  };
  standIn.stop();
  return { constant, ...rates };
}

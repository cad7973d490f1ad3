import { existsSync, readFileSync } from 'node:fs';
import { Secrets, type Start } from '../../src/core/internal';
import { AppAddress } from '../../src/live/app-address';
import { AppProcess } from '../../src/live/app-process';
import { Transport } from '../../src/live/transport';
import { freePort } from '../support/app-runs';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

/** How the app starts a child that is to outlive it. */
const CHILDREN = {
  'in its own group': `spawn(process.execPath, ['child.mjs'], { stdio: 'ignore' })`,
  'with a session of its own': `spawn(process.execPath, ['child.mjs'], { stdio: 'ignore', detached: true }).unref()`,
  'with a session and no environment': `spawn(process.execPath, ['child.mjs'], { stdio: 'ignore', detached: true, env: {} }).unref()`,
  'of a parent that is gone': `spawn('/bin/sh', ['-c', 'setsid ' + process.execPath + ' child.mjs &'], { stdio: 'ignore', detached: true })`,
};

const isAlive = (id: number) => {
  // A zombie is dead, whoever has yet to collect it.
  const state = existsSync(`/proc/${id}/stat`) ? readFileSync(`/proc/${id}/stat`, 'latin1') : ') Z';
  return !/\) Z/.test(state);
};

/** Starts an app that starts a child; gives it and the number of the child. */
async function start(child: string, whenAsked = ''): Promise<{ app: AppProcess; id: number }> {
  place.put(
    'child.mjs',
    `import { writeFileSync } from 'node:fs';
     process.on('SIGTERM', () => undefined);
     writeFileSync('child.txt', String(process.pid));
     setInterval(() => undefined, 1_000);`,
  );
  place.put(
    'app.mjs',
    `import { spawn } from 'node:child_process';
     import { existsSync } from 'node:fs';
     import { createServer } from 'node:http';
     ${child};
     createServer((_, answer) => {
       answer.writeHead(existsSync('child.txt') ? 200 : 503).end();
       if (existsSync('child.txt')) { ${whenAsked} }
     }).listen(process.env.PORT, '127.0.0.1');`,
  );
  const port = await freePort();
  const transport = new Transport(
    new AppAddress(`http://127.0.0.1:${port}`, 'http://harbour.example'),
    1,
    5_000,
  );
  const begin: Start = {
    at: [],
    command: [process.execPath, 'app.mjs'],
    env: new Map([['PORT', String(port)]]),
    ready: { method: 'GET', path: '/' },
    within: 20,
  };
  const app = await AppProcess.start(begin, {
    folder: place.folder,
    transport,
    secrets: new Secrets(),
    resolve: String,
    env: {},
  });
  transport.stop();
  return { app, id: Number(readFileSync(`${place.folder}/child.txt`, 'utf8')) };
}

test.each(Object.entries(CHILDREN))(
  'a child %s is stopped with the app',
  async (_, child) => {
    const { app, id } = await start(child);
    expect(isAlive(id)).toBe(true);
    await app.stop();
    expect(isAlive(id)).toBe(false);
  },
  30_000,
);

test('a child of an app that has ended by itself is stopped too', async () => {
  const { app, id } = await start(
    CHILDREN['with a session of its own'],
    'setTimeout(() => process.exit(0), 50);',
  );
  await app.ended(5_000);
  expect([app.isRunning, isAlive(id)]).toEqual([false, true]);
  await app.stop();
  expect(isAlive(id)).toBe(false);
}, 30_000);

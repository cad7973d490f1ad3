import { spawnSync } from 'node:child_process';
import { PROGRAM, Workplace } from '../support/program';
import { TEXTS } from './texts';

let place: Workplace;
beforeAll(() => {
  place = new Workplace();
});
afterAll(() => {
  place.remove();
});

/** What the system grants a run: seconds of processor time, and mebibytes of heap. Beyond them it is ended. */
const GRANTED = { seconds: 5, mebibytes: 400 };

test.each(Object.entries(TEXTS))('%s', (_what, make) => {
  const text = make();
  expect(Buffer.byteLength(text)).toBeLessThanOrEqual(2 * 1024 * 1024);
  place.put('text.yaml', text);
  const script = `ulimit -t ${GRANTED.seconds}; exec "$0" --max-old-space-size=${GRANTED.mebibytes} "$1" check text.yaml`;
  const { status, signal, stdout, stderr } = spawnSync(
    'bash',
    ['--norc', '-c', script, process.execPath, PROGRAM],
    {
      cwd: place.folder,
      encoding: 'utf8',
    },
  );
  // A signal, or the status of one, is the system's: the time or the memory was not enough.
  expect({ signal, isAnswered: status !== null && status <= 2 }).toEqual({ signal: null, isAnswered: true });
  expect(stderr).not.toContain('a fault of its own');
  expect(stderr).not.toContain('check-crashed');
  // However much is wrong, what is printed can be read.
  expect(stdout.length + stderr.length).toBeLessThan(200_000);
  if (status === 2) expect(stderr).toMatch(/text\.yaml:\d+:\d+/);
});

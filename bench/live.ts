// Speed of live runs: walks a second by requests and in Chromium, and what playing walks at the same time saves.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import type { Row } from './prove.js';

const program = join(process.cwd(), 'dist', 'cavrin.cjs');
const harbour = join(process.cwd(), 'examples', 'harbour');

interface Ran {
  readonly walks: number;
  readonly seconds: number;
}

/** Plays the walks of the harbour against the stand-in. */
function ran(...args: string[]): Ran {
  const start = performance.now();
  const { stdout, stderr } = spawnSync(process.execPath, [program, 'live', '--format', 'json', ...args], {
    cwd: harbour,
    encoding: 'utf8',
  });
  const seconds = (performance.now() - start) / 1000;
  if (stdout === '') throw new Error(stderr);
  const { totals } = JSON.parse(stdout) as { totals: { walks: number; findings: number } };
  if (totals.findings > 0) throw new Error('the stand-in differs from its policy');
  return { walks: totals.walks, seconds };
}

/** The rows of live runs. */
export function liveRows(): Row[] {
  const folder = mkdtempSync(join(tmpdir(), 'cavrin-bench-'));
  const restarted = join(folder, 'live.yaml');
  // An app that nobody can reset is started again for every round.
  const text = readFileSync(join(harbour, 'live.yaml'), 'utf8')
    .replace(/^reset: .*$/m, 'reset: restart')
    .replaceAll('node ../../dist/cavrin.cjs serve', `node ${program} serve ${join(harbour, 'cavrin.yaml')}`)
    .replaceAll('node last-message.mjs', `node ${join(harbour, 'last-message.mjs')}`);
  writeFileSync(restarted, text);
  try {
    const byRequests = ran('--http');
    const inBrowser = ran();
    const together = ran('--http', '--config', restarted);
    const oneByOne = ran('--http', '--one-by-one', '--config', restarted);
    const rate = ({ walks, seconds }: Ran) => `${(walks / seconds).toFixed(1)}/s`;
    const ratio = oneByOne.seconds / together.seconds;
    return [
      {
        name: 'live, walks by requests',
        value: rate(byRequests),
        note: `${byRequests.walks} walks of the harbour, the start of the app included`,
      },
      {
        name: 'live, walks in Chromium',
        value: rate(inBrowser),
        note: 'the same where script decides in Chromium',
      },
      {
        name: 'live, at the same time',
        value: `${ratio.toFixed(1)} times`,
        note: `as fast as one by one, each with the app started for it: ${together.seconds.toFixed(1)} s against ${oneByOne.seconds.toFixed(1)} s`,
        aim: { bound: 'least', wanted: 8, is: ratio },
      },
    ];
  } finally {
    rmSync(folder, { recursive: true });
  }
}

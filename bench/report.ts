// The report as a whole process: against a proof alone, and for a large policy. Both without what was proved before.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { generatedPolicy } from './generated.js';
import type { Row } from './prove.js';

/** Runs the program; gives the seconds that it takes. */
function seconds(...args: readonly string[]): number {
  const start = performance.now();
  const { status } = spawnSync(process.execPath, [join('dist', 'cavrin.cjs'), ...args], { stdio: 'ignore' });
  if (status !== 0 && status !== 1) throw new Error(`cavrin ${args.join(' ')} ended with status ${status}`);
  return (performance.now() - start) / 1000;
}

/** What a report takes. */
export function reportRows(): Row[] {
  const folder = mkdtempSync(join(tmpdir(), 'cavrin-bench-'));
  try {
    const output = join(folder, 'report.html');
    const harbour = join('examples', 'harbour', 'cavrin.yaml');
    const prove = seconds('prove', harbour, '--no-cache');
    const report = seconds('report', harbour, '--no-cache', '--output', output);
    const large = join(folder, 'large.yaml');
    writeFileSync(large, generatedPolicy(1000, 50, 30));
    const many = seconds('report', large, '--no-cache', '--output', output);
    const megabytes = statSync(output).size / 1e6;
    return [
      {
        name: 'report (harbour)',
        value: `${(report / prove).toFixed(2)} times`,
        note: `of prove alone; ${report.toFixed(1)} s`,
        aim: { bound: 'most', wanted: 3, is: report / prove },
      },
      {
        name: 'report, 1000 pages, 30 roles',
        value: `${many.toFixed(1)} s`,
        note: 'seconds',
        aim: { bound: 'most', wanted: 20, is: many },
      },
      {
        name: 'its size',
        value: `${megabytes.toFixed(1)} MB`,
        note: 'megabytes',
        aim: { bound: 'most', wanted: 10, is: megabytes },
      },
    ];
  } finally {
    rmSync(folder, { recursive: true });
  }
}

import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The program as it is built. */
export const PROGRAM = join(__dirname, '../../dist/cavrin.cjs');

export interface Run {
  readonly status: number | null;
  readonly out: string;
  readonly err: string;
}

/** A temporary folder in which the built program is run. */
export class Workplace {
  readonly folder = mkdtempSync(join(tmpdir(), 'cavrin-'));

  /** Puts a file into the folder. */
  put(name: string, content: string | Buffer): void {
    mkdirSync(join(this.folder, name, '..'), { recursive: true });
    writeFileSync(join(this.folder, name), content);
  }

  read(name: string): string {
    return readFileSync(join(this.folder, name), 'utf8');
  }

  run(
    args: readonly string[],
    more: { input?: string; env?: Record<string, string>; cwd?: string } = {},
  ): Run {
    const env = { PATH: process.env['PATH'], ...more.env };
    const { folder } = this;
    const options = { cwd: more.cwd ?? folder, input: more.input ?? '', env, encoding: 'utf8' as const };
    const { status, stdout, stderr } = spawnSync(process.execPath, [PROGRAM, ...args], options);
    return { status, out: stdout, err: stderr };
  }

  remove(): void {
    rmSync(this.folder, { recursive: true });
  }
}

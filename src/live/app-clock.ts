import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Done, Seconds } from '../core/internal.js';
import type { Doer } from './doing.js';

/** The clock of an app, as far as a run can move it. */
export interface AppClock {
  /** What the app is started with. */
  readonly env: Readonly<Record<string, string>>;
  /** Milliseconds since 1970 at which the walks that are played now began, on the app's clock. */
  readonly start: number;
  /** Walks begin: whatever the clock stands at is their zero. */
  begin(): void;
  /** Lets the clock stand so many seconds after the beginning. */
  moveTo(seconds: Seconds): Promise<void>;
  end(): void;
}

/** The start of an app's clock: a whole second, so that lives that count in seconds come out even. */
const wholeSecond = () => Math.floor(Date.now() / 1000) * 1000;

/** A clock in a file, which `moved-date` reads in the app. */
export class FileClock implements AppClock {
  start = wholeSecond();
  private readonly folder = mkdtempSync(join(tmpdir(), 'cavrin-clock-'));
  private readonly file = join(this.folder, 'clock');
  private readonly descriptor = openSync(this.file, 'w+');
  readonly env: Readonly<Record<string, string>>;
  private isOver = false;

  /** @param preload the file that is loaded before the app */
  constructor(preload: string) {
    this.write(this.start);
    const before = process.env['NODE_OPTIONS'] ?? '';
    const quoted = `"${preload.replace(/(["\\])/g, '\\$1')}"`;
    this.env = { CAVRIN_CLOCK: this.file, NODE_OPTIONS: `${before} --require ${quoted}`.trim() };
  }

  begin(): void {
    this.start = wholeSecond();
    this.write(this.start);
  }

  moveTo(seconds: Seconds): Promise<void> {
    if (!this.isOver) this.write(this.start + seconds * 1000);
    return Promise.resolve();
  }

  end(): void {
    if (this.isOver) return;
    this.isOver = true;
    closeSync(this.descriptor);
    rmSync(this.folder, { recursive: true, force: true });
  }

  private write(time: number): void {
    writeSync(this.descriptor, String(time).padStart(16, '0'), 0);
  }
}

/** A clock that is moved on by a command or a request. */
export class SteeredClock implements AppClock {
  readonly env = {};
  private moved = 0;
  private at = 0;
  private began = 0;

  constructor(
    private readonly doer: Doer,
    private readonly how: Done,
  ) {}

  get start(): number {
    return this.began + this.moved * 1000 - this.at * 1000;
  }

  begin(): void {
    this.began = wholeSecond();
    this.at = 0;
  }

  async moveTo(seconds: Seconds): Promise<void> {
    if (seconds <= this.at) return;
    await this.doer.perform('clock', this.how, { seconds: String(seconds - this.at) });
    this.moved += seconds - this.at;
    this.at = seconds;
  }

  end(): void {
    // It stays as it was left.
  }
}

/** The machine's own clock, for apps whose lives are short. */
export class RealClock implements AppClock {
  readonly env = {};
  start = wholeSecond();
  private began = Date.now();

  private wake: (() => void) | null = null;
  private isOver = false;

  begin(): void {
    this.began = Date.now();
    this.start = this.began;
  }

  async moveTo(seconds: Seconds): Promise<void> {
    const left = this.began + seconds * 1000 - Date.now();
    if (left <= 0 || this.isOver) return;
    await new Promise<void>((go) => {
      const timer = setTimeout(go, left);
      this.wake = () => {
        clearTimeout(timer);
        go();
      };
    });
  }

  /** Whoever waits waits no longer. */
  end(): void {
    this.isOver = true;
    this.wake?.();
  }
}

/** An app whose clock nobody can move: only walks that do not wait can be played. */
export class NoClock implements AppClock {
  readonly env = {};
  start = wholeSecond();

  begin(): void {
    this.start = wholeSecond();
  }

  moveTo(): Promise<void> {
    return Promise.resolve();
  }

  end(): void {
    // There is none.
  }
}

import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import type { Secrets, Start, Text } from '../core/internal.js';
import { RunEnded } from './run-ended.js';
import { MARK, startedBy } from './started-by.js';
import { NoAnswer, type Transport } from './transport.js';

/** How much of what an app printed is kept to be shown should it die. */
const MOST_OUTPUT = 4_000;
/** How long an app may take to stop by itself, in milliseconds. */
const GRACE = 3_000;
const POLL = 50;

/** Gives the value of a text, or of the variable that holds it. */
export type Resolve = (text: Text) => string;

/** An app that a run has started. It is stopped with all that it started itself. */
export class AppProcess {
  private output = '';
  private isStopped = false;
  private readonly exited: Promise<unknown>;

  private constructor(
    private readonly child: ChildProcess,
    private readonly secrets: Secrets,
    private readonly command: string,
    private readonly mark: string,
  ) {
    for (const stream of [child.stdout, child.stderr]) {
      stream?.on('data', (part: Buffer) => {
        this.output = (this.output + part.toString('utf8')).slice(-MOST_OUTPUT);
      });
    }
    this.exited = once(child, 'exit').catch(() => undefined);
    process.once('exit', this.kill);
  }

  /**
   * Starts an app and waits until it answers.
   *
   * @throws RunEnded where it dies, hangs, or something else answers in its place
   */
  static async start(
    start: Start,
    { folder, transport, secrets, resolve, env }: Surroundings,
  ): Promise<AppProcess> {
    if (await answers(start, transport, 'at all')) {
      throw new RunEnded(
        'something answers at the address of the app before it is started',
        'stop it, or leave start out of live.yaml',
      );
    }
    const [program = '', ...args] = start.command.map((word) => resolve(word));
    const own = Object.fromEntries([...start.env].map(([name, text]) => [name, resolve(text)]));
    const mark = randomUUID();
    const child = spawn(program, args, {
      cwd: folder,
      env: { ...process.env, ...env, ...own, [MARK]: mark },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    const app = new AppProcess(child, secrets, start.command.join(' '), mark);
    const failed = new Promise<never>((_, fail) => {
      child.once('error', (error: NodeJS.ErrnoException) => {
        const why = error.code === 'ENOENT' ? 'there is no such program' : (error.code ?? error.message);
        fail(new RunEnded(`${app.command} cannot be started: ${why}`, 'look at start.run in live.yaml'));
      });
    });
    failed.catch(() => undefined);
    const end = Date.now() + start.within * 1000;
    for (;;) {
      if (child.exitCode !== null || child.signalCode !== null) throw app.death();
      if (await Promise.race([answers(start, transport, 'well'), failed])) return app;
      if (Date.now() > end) {
        await app.stop();
        const { method, path } = start.ready;
        throw new RunEnded(
          `the app did not answer ${method} ${path} with success within ${start.within}s`,
          'look at start in live.yaml; within gives it longer',
          app.lastWords(),
        );
      }
      await new Promise((go) => setTimeout(go, POLL));
    }
  }

  get isRunning(): boolean {
    return this.child.exitCode === null && this.child.signalCode === null;
  }

  /** Waits until it has ended, for so many milliseconds at most. */
  async ended(most: number): Promise<void> {
    await Promise.race([this.exited, new Promise((late) => setTimeout(late, most).unref())]);
  }

  /** What is to be told of an app that ended by itself. */
  death(): RunEnded {
    const { exitCode, signalCode } = this.child;
    const how = exitCode === null ? `by ${signalCode ?? 'a signal'}` : `with status ${exitCode}`;
    return new RunEnded(
      `${this.command} ended by itself ${how}`,
      'look at what it printed',
      this.lastWords(),
    );
  }

  /** Ends it and all that it has started; what does not end by itself in time is killed. */
  async stop(): Promise<void> {
    if (this.isStopped) return;
    this.isStopped = true;
    const asked = this.living();
    signal('SIGTERM', asked);
    await this.untilGone(asked);
    signal('SIGKILL', this.living(asked));
    await this.untilGone(asked);
    await this.exited;
    process.off('exit', this.kill);
  }

  private lastWords(): string {
    return this.secrets.cut(this.output.trimEnd());
  }

  private readonly kill = () => {
    signal('SIGKILL', this.living());
  };

  private async untilGone(asked: readonly number[]): Promise<void> {
    const end = Date.now() + GRACE;
    while (this.living(asked).length > 0 && Date.now() < end) await new Promise((go) => setTimeout(go, POLL));
  }

  /**
   * All of it that runs: its group by a negative number, and whatever made a group of its own.
   *
   * @param known what was found a moment ago: the parent of some may be gone since
   */
  private living(known: readonly number[] = []): number[] {
    const { pid } = this.child;
    // The number of one that has ended may be somebody else's later on.
    const first = this.isRunning && pid !== undefined ? [pid] : [];
    return [...first.map((id) => -id), ...startedBy(this.mark, [...known, ...first])];
  }
}

function signal(name: NodeJS.Signals, processes: readonly number[]): void {
  for (const one of processes) {
    try {
      process.kill(one, name);
    } catch {
      // It is gone already.
    }
  }
}

export interface Surroundings {
  /** Where live.yaml lies. */
  readonly folder: string;
  readonly transport: Transport;
  readonly secrets: Secrets;
  readonly resolve: Resolve;
  readonly env: Readonly<Record<string, string>>;
}

/** Whether the app answers the request that tells that it is up: with success, or with anything. */
async function answers(
  { ready: { method, path } }: Start,
  transport: Transport,
  how: 'well' | 'at all',
): Promise<boolean> {
  try {
    const { status } = await transport.send(method, path, { accept: '*/*', 'user-agent': 'cavrin' });
    return how === 'at all' || status < 500;
  } catch (error) {
    if (error instanceof NoAnswer) return how === 'at all' && !error.isGone;
    throw error;
  }
}

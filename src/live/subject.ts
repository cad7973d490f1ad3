import { existsSync } from 'node:fs';
import { filledWith, type LiveConfig, type Policy, type Secrets, type Text } from '../core/internal.js';
import { AppAddress } from './app-address.js';
import { FileClock, NoClock, RealClock, SteeredClock, type AppClock } from './app-clock.js';
import { AppProcess } from './app-process.js';
import { Deeds } from './deeds.js';
import { Doer } from './doing.js';
import { RunEnded } from './run-ended.js';
import { NoAnswer, Transport } from './transport.js';

/** How long an app that closes its connections may take to end, in milliseconds. */
const LONGEST_DEATH = 1_000;

/** What a run needs to know of the machine that it runs on. */
export interface Surroundings {
  /** Where live.yaml lies; commands are run there. */
  readonly folder: string;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** What no output may have in it; the run adds what it comes across. */
  readonly secrets: Secrets;
  /** The file that is loaded before a Node app whose clock is moved. */
  readonly preload: string;
  readonly parallel: number;
  /** After how many milliseconds an answer is given up. */
  readonly patience: number;
}

/** A real app, with all by which a run starts, steers, asks and stops it. */
export class Subject {
  readonly address: AppAddress;
  readonly transport: Transport;
  readonly clock: AppClock;
  readonly secrets: Secrets;
  private readonly doer: Doer;
  /** What braces stand for wherever they are. */
  private readonly always: Readonly<Record<string, string>>;
  private app: AppProcess | null = null;

  constructor(
    private readonly config: LiveConfig,
    policy: Policy,
    private readonly around: Surroundings,
  ) {
    this.secrets = around.secrets;
    for (const { name } of policy.accounts.values()) this.secrets.addName(name);
    this.address = new AppAddress(config.at, policy.origin);
    this.transport = new Transport(this.address, around.parallel, around.patience);
    const { port, protocol } = new URL(config.at);
    this.always = { at: config.at, port: port === '' ? (protocol === 'https:' ? '443' : '80') : port };
    this.doer = new Doer(
      around.folder,
      this.transport,
      this.secrets,
      (text) => this.resolve(text),
      this.always,
    );
    for (const { passwordIn, keyIn } of config.accounts.values()) {
      for (const variable of [passwordIn, keyIn]) {
        if (variable !== null) this.secrets.add(around.env[variable]);
      }
    }
    if (config.clock === 'preload' && !existsSync(around.preload)) {
      throw new RunEnded(
        `the part that moves the clock of a Node app is missing: ${around.preload}`,
        'install the package anew',
      );
    }
    this.clock = this.clockOf();
  }

  /** Has the app ready as if nobody had used it yet, or as it is where it cannot be reset. */
  async begin(): Promise<void> {
    const { start, reset } = this.config;
    const isFirst = this.app === null;
    this.clock.begin();
    if (start !== null && (isFirst || reset === 'restart')) await this.startAgain();
    if (typeof reset !== 'string') await this.doer.perform('reset', reset);
    if (start === null && reset === 'none') await this.mustAnswer();
  }

  /** Whether each walk can have the app as if nobody had used it. */
  get canReset(): boolean {
    return this.config.reset !== 'none';
  }

  /** The deeds of one walk. */
  deeds(): Deeds {
    const { start } = this.config;
    return new Deeds(
      this.config,
      this.doer,
      this.address,
      this.secrets,
      (name) => this.variable(name),
      start === null ? null : () => this.startAgain(),
    );
  }

  /** Says why no answer came: the app died, or is not there. */
  async whyNoAnswer(error: NoAnswer): Promise<RunEnded> {
    // Its connections close before the system tells that it has ended.
    if (this.app !== null && error.isGone) await this.app.ended(LONGEST_DEATH);
    if (this.app !== null && !this.app.isRunning) return this.app.death();
    return new RunEnded(
      `${this.config.at}: ${error.reason}`,
      'start the app, or say in live.yaml how to: start: { run: … }',
    );
  }

  /** Nothing more is asked or waited for. */
  stop(): void {
    this.transport.stop();
    this.clock.end();
  }

  async end(): Promise<void> {
    await this.app?.stop();
    this.transport.stop();
    this.clock.end();
  }

  private resolve(text: Text): string {
    return filledWith(text, this.always).replace(/\benv:([A-Za-z_]\w*)/g, (_, name: string) =>
      this.variable(name),
    );
  }

  private variable(name: string): string {
    const value = this.around.env[name];
    if (value === undefined || value === '') {
      throw new RunEnded(
        `the variable ${name} is not set, which live.yaml names`,
        `set it where the run is started: ${name}=… cavrin live`,
      );
    }
    this.secrets.add(value);
    return value;
  }

  private async startAgain(): Promise<void> {
    const { start } = this.config;
    if (start === null) return;
    await this.app?.stop();
    this.transport.forget();
    this.app = await AppProcess.start(start, {
      folder: this.around.folder,
      transport: this.transport,
      secrets: this.secrets,
      resolve: (text) => this.resolve(text),
      env: this.clock.env,
    });
  }

  private async mustAnswer(): Promise<void> {
    try {
      await this.transport.send('GET', '/', { accept: '*/*', 'user-agent': 'cavrin' });
    } catch (error) {
      throw error instanceof NoAnswer ? await this.whyNoAnswer(error) : error;
    }
  }

  private clockOf(): AppClock {
    const { clock } = this.config;
    if (clock === null) return new NoClock();
    if (clock === 'preload') return new FileClock(this.around.preload);
    return clock === 'real' ? new RealClock() : new SteeredClock(this.doer, clock);
  }
}

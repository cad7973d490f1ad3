import {
  askedAtEnd,
  compareStep,
  descriptionOf,
  driversFor,
  findingsOf,
  formatDuration,
  isAdministration,
  playWalk,
  slackened,
  slotsOf,
  stageOf,
  timetableOf,
  type Driver,
  type LiveConfig,
  type LiveResult,
  type LiveStep,
  type LiveWalk,
  type Policy,
  type Seconds,
  type Stage,
  type Timetable,
  type Walk,
  withoutSilentPages,
  type WalkResult,
  type YamlText,
  newcomerOf,
  hasTrait,
} from '../core/internal.js';
import { Answered } from './answered.js';
import { BrowserPlay } from './browser-play.js';
import { Browsers } from './browsers.js';
import { Chromium } from './chromium.js';
import { HttpPlay } from './http-play.js';
import { endedBySignal } from './ended-by-signal.js';
import { driverWords } from './driver-errors.js';
import { RunEnded } from './run-ended.js';
import type { RunOptions } from './run-options.js';
import { Subject } from './subject.js';
import { NoAnswer } from './transport.js';
import { NotPlayable, notPlayed, type Planned, type Underway, type WalkPlay } from './walk-play.js';

/**
 * Plays walks against a real app and holds what it does against the policy.
 *
 * @throws RunEnded where the app is not there, dies or cannot be steered
 */
export async function runLive(
  { policy, input }: { readonly policy: Policy; readonly input: YamlText },
  walks: readonly Walk[],
  config: LiveConfig,
  options: RunOptions,
): Promise<LiveResult> {
  const subject = new Subject(config, policy, options);
  const run = new LiveRun(stageOf(policy), input, config, subject, options);
  const play = async () => {
    try {
      return await run.play(walks);
    } catch (error) {
      if (run.isStopped) throw error;
      if (error instanceof NoAnswer) throw await subject.whyNoAnswer(error);
      const words = driverWords(error);
      throw words === null ? error : new RunEnded(words, 'play by plain requests: --http');
    } finally {
      await run.end();
      await subject.end();
    }
  };
  return endedBySignal(play, () => {
    run.stop();
    subject.stop();
  });
}

/** After so many answers it is looked whether all of them are failures of the server. */
const HOPELESS = 10;

class LiveRun {
  isStopped = false;
  private plays: readonly Planned[] = [];
  private readonly chromium: Chromium | null;
  /** Why no walk is played in a browser, where some should be; null where they are. */
  private withoutBrowser: string | null = null;
  /** Whether a walk was to be played in a browser that is not to be had. */
  private isMissed = false;
  private browsers: Browsers | null = null;
  private readonly done = { walks: 0, all: 0, steps: 0, differing: 0 };
  private readonly answers = new Answered();

  constructor(
    private readonly stage: Stage,
    private readonly input: YamlText,
    private readonly config: LiveConfig,
    private readonly subject: Subject,
    private readonly options: RunOptions,
  ) {
    const found =
      options.driver === 'http'
        ? 'browsers are left out (--http)'
        : Chromium.find(options.folder, options.env['CHROMIUM']);
    this.chromium = typeof found === 'string' ? null : found;
    if (typeof found === 'string') this.withoutBrowser = found;
    if (typeof found === 'string' && options.driver === 'browser') {
      throw new RunEnded(`no browser to play in: ${found}`, null);
    }
  }

  async play(walks: readonly Walk[]): Promise<LiveResult> {
    const planned = walks.map((walk) => this.simulated(walk));
    this.plays = planned.flatMap((each) =>
      'passed' in each ? this.driversOf(each).map((driver) => ({ result: each, driver })) : [],
    );
    this.done.all = this.plays.length;
    const results = this.plays.map(({ result }) => result);
    const rounds = this.options.oneByOne
      ? results.map((_, index) => [index])
      : timetableOf(this.stage, results);
    if (this.config.clock === 'real') this.tellTime(rounds);
    const played = new Map<number, LiveWalk>();
    for (const round of rounds) await this.playRound(round, played);
    // What differs is looked at again where nothing else can have caused it.
    const isWorthIt = this.subject.canReset && this.config.clock !== 'real';
    const shared = rounds.filter(({ length }) => length > 1).flat();
    const again = isWorthIt ? shared.filter((index) => this.differs(played.get(index))) : [];
    for (const index of again) await this.playRound([index], played);
    this.answers.mustHope();
    const left = planned.filter((each): each is LiveWalk => 'cut' in each);
    const all = withoutSilentPages(this.stage, this.config, [
      ...[...played].sort(([a], [b]) => a - b).map(([, walk]) => walk),
      ...left,
    ]);
    return {
      walks: all,
      findings: findingsOf(this.stage.app.policy, all).map((finding) => ({
        ...finding,
        describedBy: descriptionOf(this.input, this.stage.app.policy, finding, all),
      })),
      requests: this.subject.transport.requests,
      together: Math.max(0, ...rounds.map(({ length }) => length)),
      withoutBrowser: this.isMissed ? this.withoutBrowser : null,
      cut: (text) => this.subject.secrets.cut(text),
    };
  }

  /** No step is begun after this, and those under way are given up. */
  stop(): void {
    this.isStopped = true;
    void this.chromium?.end().catch(() => undefined);
  }

  /** Lets go of all that was started besides the app. */
  async end(): Promise<void> {
    const refused = this.chromium?.refused ?? null;
    if (refused !== null) this.options.note(`Note: ${refused}`);
    await this.browsers?.end();
  }

  /** Plays walks on an app as nobody has used it, but for those that would change one for good that cannot be reset. */
  private async playRound(round: readonly number[], played: Map<number, LiveWalk>): Promise<void> {
    const chosen = round.filter((index) => {
      const play = this.plays[index];
      const reason = play === undefined ? null : this.forGood(play.result);
      if (play !== undefined && reason !== null) played.set(index, notPlayed(play.result, reason));
      return play !== undefined && reason === null;
    });
    if (chosen.length === 0) return;
    await this.subject.begin();
    const came = await this.playTogether(chosen);
    chosen.forEach((index, at) => {
      const walk = came[at];
      if (walk !== undefined) played.set(index, walk);
    });
  }

  /** How long real waiting takes: what is played at the same time is over with its longest walk. */
  private tellTime(rounds: Timetable): void {
    const lengthOf = (index: number) => this.plays[index]?.result.steps.at(-1)?.time ?? 0;
    const seconds = rounds.reduce((sum, round) => sum + Math.max(...round.map(lengthOf)), 0);
    if (seconds > 0) this.options.note(`The walks wait for real, for ${formatDuration(seconds)} in all.`);
  }

  /** By what a walk is played here. */
  private driversOf(result: WalkResult): readonly Driver[] {
    if (this.options.driver !== 'auto') return [this.options.driver];
    const drivers = driversFor(this.stage, result);
    if (!drivers.includes('browser')) return drivers;
    if (this.chromium !== null) return drivers;
    this.isMissed = true;
    return ['http'];
  }

  /** What the policy says of a walk, at times at which the app can be asked. */
  private simulated(walk: Walk): WalkResult | LiveWalk {
    if (this.config.clock !== 'real') return playWalk(this.stage, walk);
    return (
      slackened(this.stage, walk) ??
      notPlayed(playWalk(this.stage, walk), 'its limits lie too close together for real waiting')
    );
  }

  /** Why a walk is left out that would change the app for everybody and for good; null where it can be played. */
  private forGood({ steps }: WalkResult): string | null {
    if (this.subject.canReset) return null;
    const changes = steps.find(
      ({ step: { action } }) => isAdministration(action) || newcomerOf(action) !== null,
    );
    return changes === undefined
      ? null
      : `${changes.step.action.verb} would change the app for good (reset in live.yaml)`;
  }

  private differs(walk: LiveWalk | undefined): boolean {
    return (
      walk?.steps.some(({ result, seen }) => compareStep(this.stage.app.policy, result, seen) !== null) ??
      false
    );
  }

  /** Plays walks on one app and one clock, in order of time. */
  private async playTogether(chosen: readonly number[]): Promise<LiveWalk[]> {
    const walks = new Map<number, Underway>();
    for (const index of chosen) {
      const play = this.plays[index];
      if (play !== undefined) {
        walks.set(index, { ...play, play: await this.newPlay(play), steps: [], cut: null });
      }
    }
    const slots = slotsOf(
      this.plays.map(({ result }) => result),
      chosen,
    );
    let at = 0;
    try {
      while (at < slots.length) {
        const { time } = slots[at] ?? { time: 0 };
        const end = slots.findIndex((slot, index) => index > at && slot.time !== time);
        const now = slots.slice(at, end < 0 ? undefined : end);
        at = end < 0 ? slots.length : end;
        if (now.every(({ walk }) => walks.get(walk)?.cut !== null)) continue;
        if (time > 0 && this.config.clock !== null) await this.subject.clock.moveTo(time);
        await this.playNow(now, walks, time);
      }
      for (const walk of walks.values()) await this.askAtEnd(walk);
      return [...walks.values()].map(({ result, driver, steps, cut }) => ({
        walk: result.walk,
        driver,
        steps,
        cut,
      }));
    } finally {
      await Promise.all([...walks.values()].map(({ play }) => play.end()));
      this.done.walks += chosen.length;
    }
  }

  /** The steps of one second: those of a walk one after the other, different walks beside each other. */
  private async playNow(
    slots: readonly { walk: number; step: number }[],
    walks: ReadonlyMap<number, Underway>,
    time: Seconds,
  ): Promise<void> {
    const own = new Map<number, number[]>();
    for (const { walk, step } of slots) own.set(walk, [...(own.get(walk) ?? []), step]);
    const queue = [...own];
    const worker = async () => {
      for (let next = queue.shift(); next !== undefined; next = queue.shift()) {
        const [walk, steps] = next;
        const underway = walks.get(walk);
        for (const step of steps) if (underway?.cut === null) await this.playStep(underway, step, time);
      }
    };
    const settled = await Promise.allSettled(
      Array.from({ length: Math.min(this.options.parallel, queue.length) }, worker),
    );
    for (const each of settled) if (each.status === 'rejected') throw each.reason;
  }

  /** What only asking tells, and asking would change. */
  private async askAtEnd(walk: Underway): Promise<void> {
    if (walk.cut !== null) return;
    for (const result of askedAtEnd(this.stage, this.config, walk.steps)) {
      walk.steps.push(await walk.play.ask(result));
    }
  }

  private async playStep(walk: Underway, index: number, time: Seconds): Promise<void> {
    const result = walk.result.steps[index];
    if (result === undefined) return;
    if (result.impossible !== null) {
      walk.cut = `the policy itself does not let it go on: ${result.impossible}`;
      return;
    }
    if (time > 0 && this.config.clock === null) {
      walk.cut = 'its waits cannot be made: live.yaml does not say how to move the clock';
      return;
    }
    if (this.isStopped) throw new NoAnswer('the run was stopped', false);
    try {
      const step = await walk.play.step(result);
      walk.steps.push(step);
      this.count(step);
    } catch (error) {
      if (!(error instanceof NotPlayable)) throw error;
      walk.cut = error.message;
    }
  }

  private count(step: LiveStep): void {
    const { seen, result } = step;
    this.done.steps += 1;
    if (compareStep(this.stage.app.policy, result, seen) !== null) this.done.differing += 1;
    for (const { status } of seen.messages) this.answers.add(status);
    if (this.answers.all >= HOPELESS) this.answers.mustHope();
    this.options.progress({ ...this.done });
  }

  private async newPlay({ result, driver }: Planned): Promise<WalkPlay> {
    const { address, transport, secrets, clock } = this.subject;
    const { stage, config } = this;
    if (driver === 'http') {
      return new HttpPlay(
        { stage, config, address, transport, secrets, start: clock.start },
        this.subject.deeds(),
      );
    }
    if (this.chromium === null) throw new Error('a walk in a browser without one');
    this.browsers ??= await Browsers.start(this.chromium, config, stage, secrets, transport.patience);
    const closes = result.steps.some(({ step: { action } }) => hasTrait(action, 'closes-browser'));
    return new BrowserPlay(this.browsers.siteAt(clock.start), this.subject.deeds(), closes);
  }
}

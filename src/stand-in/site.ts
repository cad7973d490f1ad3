import {
  administer,
  answered,
  answerTo,
  FixedClock,
  initialState,
  stageOf,
  type Administration,
  type Answered,
  type AppState,
  type Decided,
  type HttpRequest,
  type Path,
  type Policy,
  type Seconds,
  type Stage,
} from '../core/internal.js';
import type { Recorder } from './recorder.js';
import { toTaggedJson } from './tagged-json.js';
import type { Time } from './time.js';

/** One request as the app decided it. */
export interface Entry extends Answered {
  readonly number: number;
  readonly time: Seconds;
  /** The place of the policy that decided. */
  readonly decidedBy: Path;
}

/** Requests that are remembered, for the steering pages. */
const MOST_ENTRIES = 1000;
/** Records of one kind that the app half may keep; then it answers nothing more until it is reset. */
const MOST_RECORDS = 20_000;

/** The app half at work: the same code as in a walk, with the state that it has come to. */
export class Site {
  readonly stage: Stage;
  /** The scheme and host of the policy's origin, the host with its port. */
  readonly scheme: string;
  readonly host: string;
  /** Every host under which the app answers, by its name without port. */
  readonly hosts: ReadonlyMap<string, string>;
  /** What pages tell their script of the app, as JSON. */
  readonly clientJson: string;
  /** Where it is reached, and where the identity providers are beside it, by their names. */
  address = '';
  readonly providers = new Map<string, string>();
  private current: AppState;
  /** What happens while a walk is recorded; null while none is. */
  recorder: Recorder | null = null;
  /** The walk that was recorded last, as a file of walks; null for none. */
  recorded: string | null = null;
  private latest: Entry[] = [];
  private answered = 0;

  constructor(
    readonly policy: Policy,
    readonly time: Time,
  ) {
    this.stage = stageOf(policy);
    const { protocol, host } = new URL(policy.origin);
    this.scheme = protocol.slice(0, -1);
    this.host = host;
    const { origins: all, issuers } = this.stage.client;
    const origins = [...all].filter((origin) => !issuers.has(origin)).map((origin) => new URL(origin));
    this.hosts = new Map([...origins.reverse()].map((origin) => [origin.hostname, origin.host]));
    this.clientJson = toTaggedJson(this.stage.client);
    this.current = initialState(policy, time.now());
  }

  get state(): AppState {
    return this.current;
  }

  /** The latest requests, the oldest first. */
  get entries(): readonly Entry[] {
    return this.latest;
  }

  /** Whether so much is on record that nothing more is answered. */
  get isFull(): boolean {
    const { sessions, families, accessTokens, refreshTokens, links, remembered, codes, asked } = this.current;
    const { accounts, attempts, keys, providerSessions } = this.current;
    const kinds = [
      ...[sessions, families, accessTokens, refreshTokens, links, remembered, codes, asked, keys],
      providerSessions,
    ];
    const signedUp = accounts.size - this.policy.accounts.size;
    return (
      Math.max(attempts.size, signedUp) >= MOST_RECORDS ||
      kinds.some((records) => records.length >= MOST_RECORDS)
    );
  }

  /**
   * Answers one request, and goes on from the state that this leaves.
   *
   * @param browser by what the recorder knows the browser that asked; null where nothing is recorded
   */
  answer(request: HttpRequest, browser: string | null = null): Decided {
    const time = this.time.now();
    const before = this.current;
    const decided = answerTo(this.stage, this.current, request, new FixedClock(time));
    this.current = decided.state;
    this.recorder?.asked(browser, { request, decided, before }, time);
    this.answered += 1;
    const { decidedBy } = decided.explanation;
    this.latest.push({ number: this.answered, time, ...answered({ request, ...decided }), decidedBy });
    if (this.latest.length >= 2 * MOST_ENTRIES) this.latest = this.latest.slice(-MOST_ENTRIES);
    return decided;
  }

  /** Does to the app what only its keeper can. */
  administer(what: Administration): void {
    this.recorder?.administered(what, this.time.now());
    this.current = administer(this.policy, this.current, what, new FixedClock(this.time.now()));
  }

  /** Puts everything back to the start but the time. */
  reset(): void {
    this.current = initialState(this.policy, this.time.now());
    this.latest = [];
    this.recorder?.startAnew(this.time.now());
  }
}
